package dev.dusky.core.record;

import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.LineEnd;
import java.io.IOException;
import java.io.InputStream;
import java.util.List;

/** Reads text whose fields have fixed places. */
public final class FixedReader implements RecordReader {

  private final TextRecords text;
  private final FixedScanner scanner;
  private final FixedLayout layout;

  /** Opens a file's uncompressed bytes. */
  public FixedReader(String path, InputStream content, FixedLayout layout) throws IOException {
    this.layout = layout;
    this.text =
        new TextRecords(
            path, content, layout.encoding(), "text of fixed width", layout.recordLimit());
    byte lineEnd = text.lineEnd(LineEnd.AUTO);
    text.skipLines(layout.skipLines(), lineEnd);
    this.scanner = new FixedScanner(layout, lineEnd, 1L + layout.skipLines());
  }

  @Override
  public List<String> names() {
    return layout.fields().stream().map(field -> field.name()).toList();
  }

  @Override
  public byte[] preamble() {
    return text.mark();
  }

  @Override
  public boolean read(RecordBatch batch) throws IOException {
    return text.fill(batch, scanner, TextRecords.MOST_RECORDS);
  }

  @Override
  public void close() throws IOException {
    text.close();
  }
}
