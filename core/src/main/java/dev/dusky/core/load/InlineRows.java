package dev.dusky.core.load;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.record.FieldSplitter;
import dev.dusky.core.record.FileFaults;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import java.io.IOException;
import java.io.UncheckedIOException;

/** Reads and types a small file's records on the caller's thread: starting others takes longer. */
final class InlineRows implements RowSource {

  private final String path;
  private final RecordReader reader;
  private final FieldSplitter splitter;
  private final Binder binder;
  private final RecordBatch records;
  private RowBatch rows;
  private long numbered;

  /**
   * Rows of one file.
   *
   * @param path how messages name the file
   * @param records reused from file to file
   */
  InlineRows(String path, RecordReader reader, Binder binder, RecordBatch records) {
    this.path = path;
    this.reader = reader;
    this.splitter = reader.splitter();
    this.binder = binder;
    this.records = records;
  }

  @Override
  public RowBatch next() throws IOException {
    if (rows == null) {
      rows = binder.newBatch();
    }
    return next(rows) ? rows : null;
  }

  /** Fills a batch with the next rows; false if there are no more. */
  boolean next(RowBatch batch) throws IOException {
    if (!reader.read(records)) {
      return false;
    }
    try {
      binder.bind(splitter.split(records), batch);
    } catch (Throwable e) { // nothing in a file may stop those behind it
      throw FileFaults.of(path, "while its records were typed", e);
    }
    batch.numberFrom(numbered, 0);
    numbered += batch.read();
    return true;
  }

  @Override
  public void recycle(RowBatch batch) {
    // There is only the one.
  }

  @Override
  public void close() {
    try {
      reader.close();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
