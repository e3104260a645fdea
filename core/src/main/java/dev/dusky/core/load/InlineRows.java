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
  private final RowBatch rows;
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
    this.rows = binder.newBatch();
  }

  @Override
  public RowBatch next() throws IOException {
    if (!reader.read(records)) {
      return null;
    }
    try {
      binder.bind(splitter.split(records), rows);
    } catch (Throwable e) { // nothing in a file may stop those behind it
      throw FileFaults.of(path, "while its records were typed", e);
    }
    rows.numberFrom(numbered, 0);
    numbered += rows.read();
    return rows;
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
