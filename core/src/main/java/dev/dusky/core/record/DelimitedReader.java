package dev.dusky.core.record;

import dev.dusky.core.bytes.TextContent;
import dev.dusky.core.bytes.Transcoding;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.LineEnd;
import dev.dusky.core.record.DelimitedScanner.Behind;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * Reads delimited text. Fills the batch's buffer, lets the {@link DelimitedScanner} mark the
 * records, and carries the unfinished one at the end over to the next batch.
 */
public final class DelimitedReader implements RecordReader {

  private final String path;
  private final DelimitedLayout layout;
  private final InputStream in;
  private final Transcoding transcoding;
  private final DelimitedScanner scanner;
  private final List<String> names;
  private byte[] carry = new byte[0];
  private boolean ended;
  private long recordNumber = 1;
  private long offset;

  /** Opens a file's uncompressed bytes and reads its header, if the layout has one. */
  public DelimitedReader(String path, InputStream content, DelimitedLayout layout)
      throws IOException {
    this.path = path;
    this.layout = layout;
    TextContent text = TextContent.open(path, content, layout.encoding());
    this.in = text.utf8();
    this.transcoding = text.transcoding();
    this.offset = text.markLength();
    readCarry(64 << 10);
    if (carry.length == 0) {
      throw Failure.file(path + " is empty")
          .because("it has no bytes at all")
          .next("Ask the sender for the file, or remove it from the depot");
    }
    byte lineEnd = lineEnd();
    int skipped = skipLines(lineEnd);
    this.scanner = new DelimitedScanner(layout, lineEnd, 1L + skipped);
    this.names = layout.header() == HeaderUse.ABSENT ? List.of() : header();
  }

  /** Reads until the carry has at least so many bytes or the file ends. */
  private void readCarry(int least) throws IOException {
    int length = carry.length;
    byte[] bytes = Arrays.copyOf(carry, Math.max(least, length));
    int read = in.readNBytes(bytes, length, bytes.length - length);
    ended = length + read < bytes.length;
    carry = ended ? Arrays.copyOf(bytes, length + read) : bytes;
  }

  private byte lineEnd() {
    if (layout.lineEnd() != LineEnd.AUTO) {
      return (byte) (layout.lineEnd() == LineEnd.CR ? '\r' : '\n');
    }
    for (int i = 0; i < carry.length; i++) {
      if (carry[i] == '\n') {
        return '\n';
      }
      if (carry[i] == '\r') {
        return (byte) (i + 1 < carry.length && carry[i + 1] != '\n' ? '\r' : '\n');
      }
    }
    return '\n';
  }

  private int skipLines(byte lineEnd) throws IOException {
    for (int skipped = 0; skipped < layout.skipLines(); skipped++) {
      int end = DelimitedScanner.find(lineEnd, carry, 0, carry.length);
      while (end < 0 && !ended) {
        takeFromCarry(carry.length);
        readCarry(64 << 10);
        end = DelimitedScanner.find(lineEnd, carry, 0, carry.length);
      }
      takeFromCarry(end < 0 ? carry.length : end + 1);
      if (carry.length == 0 && !ended) {
        readCarry(64 << 10);
      }
    }
    return layout.skipLines();
  }

  private void takeFromCarry(int length) {
    offset += transcoding.originalLength(carry, 0, length);
    carry = Arrays.copyOfRange(carry, length, carry.length);
  }

  private List<String> header() throws IOException {
    RecordBatch batch = new RecordBatch(64 << 10);
    boolean found = fill(batch, 1);
    if (!found || batch.fault(0) != null) {
      throw Failure.file(path + " has no header")
          .because(
              found
                  ? "line " + batch.line(0) + ": " + batch.fault(0).message()
                  : "there is no line but blank ones and comments")
          .next("If the file has no header, set header: false in layout " + layout.name());
    }
    recordNumber = 1;
    List<String> result = new ArrayList<>();
    FieldText text = new FieldText(layout);
    for (int field = 0; field < batch.fieldCount(0); field++) {
      text.locate(batch, field);
      String name =
          new String(text.bytes(), text.start(), text.end() - text.start(), StandardCharsets.UTF_8);
      result.add(name.strip());
    }
    return List.copyOf(result);
  }

  @Override
  public List<String> names() {
    return names;
  }

  @Override
  public boolean read(RecordBatch batch) throws IOException {
    return fill(batch, Integer.MAX_VALUE / 2);
  }

  private boolean fill(RecordBatch batch, int mostRecords) throws IOException {
    batch.reset(recordNumber, offset, transcoding);
    int limit = carry.length;
    if (batch.capacity() < limit) {
      batch.growBytes(limit);
    }
    System.arraycopy(carry, 0, batch.bytes(), 0, limit);
    int used = 0;
    while (true) {
      if (!ended) {
        int wanted = batch.capacity() - limit;
        int read = in.readNBytes(batch.bytes(), limit, wanted);
        ended = read < wanted;
        limit += read;
      }
      used = scanner.scan(batch, used, limit, ended ? Behind.END : Behind.MORE, mostRecords);
      if (batch.records() > 0 || ended && used >= limit) {
        break;
      }
      if (used > 0) {
        // Only blank lines, comments or the rest of a skipped record so far: make room.
        offset += transcoding.originalLength(batch.bytes(), 0, used);
        System.arraycopy(batch.bytes(), used, batch.bytes(), 0, limit - used);
        limit -= used;
        used = 0;
        batch.reset(recordNumber, offset, transcoding);
      } else if (batch.capacity() < layout.recordLimit()) {
        batch.growBytes(Math.min(layout.recordLimit(), batch.capacity() * 2));
      } else {
        used = scanner.giveUp(batch, used, limit);
        break;
      }
    }
    carry = Arrays.copyOfRange(batch.bytes(), used, limit);
    offset += transcoding.originalLength(batch.bytes(), 0, used);
    recordNumber += batch.records();
    return batch.records() > 0;
  }

  @Override
  public void close() throws IOException {
    in.close();
  }
}
