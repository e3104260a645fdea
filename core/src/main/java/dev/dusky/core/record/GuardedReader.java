package dev.dusky.core.record;

import java.io.IOException;
import java.util.List;
import java.util.Optional;

/**
 * The boundary around a reader: whatever it throws becomes a refusal of its file. After a failure
 * it keeps failing in the same way, so that a broken file never seems to end well.
 */
final class GuardedReader implements RecordReader {

  private final String path;
  private final RecordReader reader;
  private long records;
  private RuntimeException failed;
  private IOException broke;

  GuardedReader(String path, RecordReader reader) {
    this.path = path;
    this.reader = reader;
  }

  @Override
  public List<String> names() {
    return reader.names();
  }

  @Override
  public List<String> beside() {
    return reader.beside();
  }

  @Override
  public boolean read(RecordBatch batch) throws IOException {
    if (failed != null) {
      throw failed;
    }
    if (broke != null) {
      throw broke;
    }
    try {
      boolean any = reader.read(batch);
      records += any ? batch.records() : 0;
      return any;
    } catch (Throwable e) { // this is the boundary
      try {
        failed = FileFaults.of(path, behind(), e);
      } catch (IOException storage) {
        broke = storage;
        throw storage;
      }
      throw failed;
    }
  }

  private String behind() {
    return records == 0 ? "in or before its first records" : "behind record %,d".formatted(records);
  }

  @Override
  public boolean typed() {
    return reader.typed();
  }

  @Override
  public FieldSplitter splitter() {
    return reader.splitter();
  }

  @Override
  public byte[] preamble() {
    return reader.preamble();
  }

  @Override
  public Optional<TextRanges> ranges() {
    return reader.ranges();
  }

  /** A reader that failed may fail again when it is closed; that says nothing new. */
  @Override
  public void close() throws IOException {
    try {
      reader.close();
    } catch (IOException | RuntimeException e) {
      if (failed == null && broke == null) {
        throw FileFaults.of(path, "at its end", e);
      }
      (failed == null ? broke : failed).addSuppressed(e);
    }
  }
}
