package dev.dusky.core.record;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.HeaderUse;
import java.io.IOException;
import java.io.InputStream;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** Reads delimited text. */
public final class DelimitedReader implements RecordReader {

  private final String path;
  private final DelimitedLayout layout;
  private final TextRecords text;
  private final DelimitedScanner scanner;
  private final byte lineEnd;
  private final List<String> names;
  private byte[] headerRecord = new byte[0];

  /** Opens a file's uncompressed bytes and reads its header, if the layout has one. */
  public DelimitedReader(String path, InputStream content, DelimitedLayout layout)
      throws IOException {
    this.path = path;
    this.layout = layout;
    this.text =
        new TextRecords(path, content, layout.encoding(), "delimited text", layout.recordLimit());
    this.lineEnd = text.lineEnd(layout.lineEnd());
    text.skipLines(layout.skipLines(), lineEnd);
    this.scanner = new DelimitedScanner(layout, lineEnd, 1L + layout.skipLines());
    this.names = layout.header() == HeaderUse.ABSENT ? List.of() : header();
  }

  private List<String> header() throws IOException {
    RecordBatch batch = new RecordBatch(4 << 10);
    boolean found = text.fill(batch, scanner, 1);
    if (!found || batch.fault(0) != null) {
      throw Failure.file(path + " has no header")
          .because(
              found
                  ? "line " + batch.line(0) + ": " + batch.fault(0).message()
                  : "there is no line but blank ones and comments")
          .hint("If the file has no header, set header: false in layout " + layout.name());
    }
    headerRecord = batch.raw(0);
    List<String> result = new ArrayList<>();
    FieldText field = new FieldText(layout);
    for (int f = 0; f < batch.fieldCount(0); f++) {
      field.locate(batch, f);
      result.add(field.toString().strip());
    }
    return List.copyOf(result);
  }

  @Override
  public List<String> names() {
    return names;
  }

  /** The byte order mark, and the header if its names count, in the file's own encoding. */
  @Override
  public byte[] preamble() {
    if (layout.header() != HeaderUse.NAMES) {
      return text.mark();
    }
    byte[] lineEnd = text.lineEnd(layout);
    byte[] all =
        Arrays.copyOf(text.mark(), text.mark().length + headerRecord.length + lineEnd.length);
    System.arraycopy(headerRecord, 0, all, text.mark().length, headerRecord.length);
    System.arraycopy(lineEnd, 0, all, text.mark().length + headerRecord.length, lineEnd.length);
    return all;
  }

  @Override
  public Optional<TextRanges> ranges() {
    RecordStart start =
        layout.quote() < 0
            ? new RecordStart.BehindLine(lineEnd)
            : RecordStart.BehindUnquotedLine.of(layout, lineEnd);
    return TextRanges.of(
        text, () -> new DelimitedScanner(layout, lineEnd, 0), start, scanner.line());
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
