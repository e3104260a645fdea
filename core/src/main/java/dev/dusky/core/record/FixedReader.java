package dev.dusky.core.record;

import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.LineEnd;
import java.io.IOException;
import java.io.InputStream;
import java.util.List;
import java.util.Optional;

/** Reads text whose fields have fixed places. */
final class FixedReader implements RecordReader {

  private final TextRecords text;
  private final FixedScanner scanner;
  private final FixedLayout layout;
  private final byte lineEnd;
  private final RecordStart start;

  /** Opens a file's uncompressed bytes. */
  public FixedReader(String path, InputStream content, FixedLayout layout) throws IOException {
    this.layout = layout;
    this.text =
        new TextRecords(
            path, content, layout.encoding(), "text of fixed width", layout.recordLimit());
    this.lineEnd = text.lineEnd(LineEnd.AUTO);
    text.skipLines(layout.skipLines(), lineEnd);
    this.scanner = new FixedScanner(layout, lineEnd, 1L + layout.skipLines());
    this.start = start(text.head());
  }

  /** Line ends separate records, or the length of the first one is that of all. */
  private RecordStart start(byte[] head) {
    int end = 0;
    for (int characters = 0; end < head.length; end++) {
      characters += (head[end] & 0xc0) != 0x80 ? 1 : 0;
      if (characters > layout.recordLength()) {
        break;
      }
    }
    boolean line = end < head.length && (head[end] == '\r' || head[end] == '\n');
    return layout.recordLength() == 0 || line
        ? new RecordStart.BehindLine(lineEnd)
        : new RecordStart.EveryLength(text.offset(), text.originalLength(end));
  }

  @Override
  public List<String> names() {
    return layout.fields().stream().map(field -> field.name()).toList();
  }

  @Override
  public byte[] preamble() {
    return text.mark();
  }

  /** Where one record is carried onto those behind it, parts cannot be read by themselves. */
  @Override
  public Optional<TextRanges> ranges() {
    return layout.kinds().isPresent()
        ? Optional.empty()
        : TextRanges.of(text, () -> new FixedScanner(layout, lineEnd, 0), start, scanner.line());
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
