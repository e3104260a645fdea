package dev.dusky.core.source;

/** Reads the rows of a query. */
public interface SourceReader extends AutoCloseable {

  /**
   * Fills a batch.
   *
   * @return false if there are no more rows
   * @throws dev.dusky.core.failure.Failure of kind DEPOT if the database fails, or has a value that
   *     the column's type does not hold exactly
   */
  boolean read(SourceBatch batch);

  @Override
  void close();
}
