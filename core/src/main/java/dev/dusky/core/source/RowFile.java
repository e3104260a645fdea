package dev.dusky.core.source;

import java.io.IOException;

/** A file that rows are written to. */
public interface RowFile extends AutoCloseable {

  /** Writes all rows of a batch. */
  void write(SourceBatch batch) throws IOException;

  /** About how many bytes it has. */
  long bytes();

  /** Writes what is left and closes the file. */
  @Override
  void close() throws IOException;
}
