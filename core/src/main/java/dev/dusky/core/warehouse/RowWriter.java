package dev.dusky.core.warehouse;

import dev.dusky.core.bind.RowBatch;

/** Writes rows into a table within a transaction that someone else commits. */
public interface RowWriter extends AutoCloseable {

  /** Writes the batch's good rows. The batch may be reused afterwards. */
  void write(RowBatch batch);

  /**
   * Completes the writing.
   *
   * @return how many rows the warehouse says it took
   */
  long finish();

  /** Stops writing; rows not finished are lost. */
  @Override
  void close();
}
