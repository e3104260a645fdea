package dev.dusky.core.tables;

import java.util.List;

/** Rows of one or several files, written for a commit elsewhere. */
public interface DetachedChange {

  /** The part of one file; one file is written after the other. */
  LandingChange of(long fileId);

  /** Whether all rows that were written are to stay: none of the files was undone. */
  boolean whole();

  /** Ends writing and names the data files, for {@link AdoptedRows#adopt}. */
  List<String> finish();

  /** Removes what was written. */
  void discard();
}
