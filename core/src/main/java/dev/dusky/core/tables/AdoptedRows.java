package dev.dusky.core.tables;

import java.util.List;

/** Rows that other machines have written for a landing table, within a transaction. */
public interface AdoptedRows {

  /** Where the table is described for those machines, as it is at this moment. */
  String table();

  /**
   * Makes others that change the table wait until the transaction ends. Called before {@link
   * #table}.
   */
  void hold();

  /**
   * The pieces of the rows that the table has, in the order in which they landed. The caller holds
   * the table.
   */
  List<LandedPiece> landed();

  /** Takes data files, as {@link DetachedChange#finish} names them. */
  void adopt(List<String> written);

  /** Removes data files instead of taking them. */
  void drop(List<String> written);

  /** Makes the rows part of the table, within the transaction. */
  void send();

  /** Removes what was taken, as it becomes part of no table. */
  void discard();
}
