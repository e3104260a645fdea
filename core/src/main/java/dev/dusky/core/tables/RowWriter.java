package dev.dusky.core.tables;

import dev.dusky.core.bind.RowBatch;

/**
 * Writes rows into a table within a transaction that someone else commits. Rows that the table
 * itself refuses do not stop it: they are left out and reported.
 */
public interface RowWriter extends AutoCloseable {

  /** Writes the batch's good rows. The batch may be reused afterwards. */
  void write(RowBatch batch);

  /**
   * Completes the writing.
   *
   * @return how many rows the table took
   */
  long finish();

  /** The rows that the table refused; complete after {@link #finish}. */
  Refusals refusals();

  /** Stops writing; rows not finished are lost. */
  @Override
  void close();
}
