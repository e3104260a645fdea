package dev.dusky.core.ledger;

/** Deletes rows of a landing table while the ledger enters their reversal. */
@FunctionalInterface
public interface RowRemoval {

  /** Deletes the rows that a load posted of a file, and returns how many there were. */
  long takeOut(long loadId, long fileId);
}
