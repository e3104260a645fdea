package dev.dusky.core.tables;

import java.util.List;

/** The change that one file makes to a landing table, within a transaction. */
public interface LandingChange {

  /** Starts writing the file's rows. */
  RowWriter writer();

  /**
   * Makes the rows that were written part of the table, within the transaction. Called once, before
   * the outcome is entered, except for the part of a group, which {@link GroupChange#send}
   * completes. Nothing to do where rows are in the table as soon as they are written.
   */
  default void post() {}

  /** Makes others that look for repeats in the table wait until the transaction ends. */
  void hold();

  /** Gives the values of these columns of all rows in the table, in the order of their posting. */
  void rows(List<String> columns, LandedRows taker);

  /**
   * Takes back the rows written through this change where the transaction continues without them.
   * Does nothing where the claim rolls the whole transaction back.
   */
  void undo();
}
