package dev.dusky.core.load;

import dev.dusky.core.bind.RowBatch;
import java.io.IOException;

/** Gives a file's rows, batch by batch, in the order of the file. */
public interface RowSource extends AutoCloseable {

  /**
   * The next batch of rows, to be given back with {@link #recycle} before asking again; null at the
   * end of the file. Whatever stopped the reading is thrown here.
   */
  RowBatch next() throws IOException, InterruptedException;

  /** Gives the last batch back for reuse. */
  void recycle(RowBatch batch);

  /** Stops reading and closes the reader. */
  @Override
  void close();
}
