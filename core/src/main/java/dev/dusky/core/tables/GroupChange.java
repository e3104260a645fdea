package dev.dusky.core.tables;

/** The change that several small files make to a landing table, within one transaction. */
public interface GroupChange {

  /** The part of one file; one file is written after the other. */
  LandingChange of(long fileId);

  /** Sends what is not sent yet. Returns false if the table does not take all rows. */
  boolean send();
}
