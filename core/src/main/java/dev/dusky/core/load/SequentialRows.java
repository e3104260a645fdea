package dev.dusky.core.load;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bytes.Compression;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.record.RecordReader;
import java.util.function.Supplier;

/** The rows of a file that is read from its beginning to its end, on separate threads. */
public final class SequentialRows {

  private static final int FEW_PROCESSORS = 2;

  private SequentialRows() {}

  /**
   * Starts reading. The reader is closed with the rows.
   *
   * @param path how messages name the file
   * @param binders gives its own binder for each thread
   */
  public static RowSource of(
      String path, FileContent content, RecordReader reader, Supplier<Binder> binders) {
    boolean busy =
        content.compression() != Compression.PLAIN
            && Runtime.getRuntime().availableProcessors() <= FEW_PROCESSORS;
    return busy
        ? new AheadRows(path, reader, binders.get())
        : new RowPipeline(path, reader, binders);
  }
}
