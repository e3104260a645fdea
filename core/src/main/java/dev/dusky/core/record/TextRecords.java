package dev.dusky.core.record;

import dev.dusky.core.bytes.TextContent;
import dev.dusky.core.bytes.Transcoding;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.LineEnd;
import dev.dusky.core.record.RecordScanner.Behind;
import java.io.Closeable;
import java.io.IOException;
import java.io.InputStream;
import java.util.Arrays;

/**
 * A text file as it is taken into batches: fills a batch's buffer, lets a {@link RecordScanner}
 * mark the records, and carries the unfinished one at the end over to the next batch.
 */
final class TextRecords implements Closeable {

  private static final int LOOK = 64 << 10;

  /** Small files end within these bytes. */
  private static final int FIRST_LOOK = 8 << 10;

  /** The bytes read at a time of a record that continues behind its part of the file. */
  private static final int LOOK_BEYOND = 8 << 10;

  /** The maximum number of records in a batch, since their faults are held too. */
  static final int MOST_RECORDS = 1 << 15;

  private final InputStream in;
  private final Transcoding transcoding;
  private final int recordLimit;
  private final byte[] mark;
  private byte[] carry = new byte[0];
  private boolean ended;
  private long offset;

  /** Where no new record is begun any more. */
  private final long reach;

  /** Opens a file's uncompressed bytes; an empty file is a failure. */
  TextRecords(String path, InputStream content, Encoding encoding, String kind, int recordLimit)
      throws IOException {
    TextContent text = TextContent.open(path, content, encoding, kind);
    this.in = text.utf8();
    this.transcoding = text.transcoding();
    this.mark = text.mark();
    this.offset = mark.length;
    this.reach = Long.MAX_VALUE;
    this.recordLimit = recordLimit;
    readCarry(FIRST_LOOK);
    if (!ended) {
      readCarry(LOOK);
    }
    if (carry.length == 0) {
      throw empty(path);
    }
  }

  /**
   * A part of a file: the records that start before a place.
   *
   * @param in the text from a record's start on, beyond the part too
   * @param offset where in the file's bytes that record starts
   * @param reach the place in the file's bytes
   */
  TextRecords(InputStream in, Transcoding transcoding, long offset, long reach, int recordLimit) {
    this.in = in;
    this.transcoding = transcoding;
    this.mark = new byte[0];
    this.offset = offset;
    this.reach = reach;
    this.recordLimit = recordLimit;
  }

  static Failure empty(String path) {
    return Failure.file(path + " is empty")
        .because("it has no bytes at all")
        .hint("Ask the sender for the file, or remove it from the depot");
  }

  /** The file's byte order mark, or no bytes. */
  byte[] mark() {
    return mark;
  }

  /** Where in the file's bytes the next record starts, or what is before it. */
  long offset() {
    return offset;
  }

  /** The largest record in bytes. */
  int recordLimit() {
    return recordLimit;
  }

  /** The way back to the file's bytes. */
  Transcoding transcoding() {
    return transcoding;
  }

  /** The first bytes that are not taken yet, at most 64 KiB. */
  byte[] head() {
    return carry;
  }

  /** How many of the file's bytes the first ones of the head represent. */
  int originalLength(int bytes) {
    return transcoding.originalLength(carry, 0, bytes);
  }

  /** Reads until the carry has at least a given number of bytes or the file ends. */
  private void readCarry(int least) throws IOException {
    int length = carry.length;
    byte[] bytes = Arrays.copyOf(carry, Math.max(least, length));
    int read = in.readNBytes(bytes, length, bytes.length - length);
    ended = length + read < bytes.length;
    carry = ended ? Arrays.copyOf(bytes, length + read) : bytes;
  }

  /** The byte that ends a line, inferred from the first one if it is not declared. */
  byte lineEnd(LineEnd declared) {
    if (declared != LineEnd.AUTO) {
      return (byte) (declared == LineEnd.CR ? '\r' : '\n');
    }
    for (int i = 0; i < carry.length; i++) {
      if (carry[i] == '\n') {
        return '\n';
      }
      if (carry[i] == '\r') {
        int behind = i + 1;
        while (behind < carry.length && carry[behind] == '\r') {
          behind++; // lines that were given their line ends twice end with CR CR LF
        }
        boolean line = behind == carry.length ? behind == i + 1 : carry[behind] == '\n';
        return (byte) (line ? '\n' : '\r');
      }
    }
    return '\n';
  }

  /** The file's own bytes for these of UTF-8. */
  byte[] original(byte[] utf8, int from, int to) {
    return transcoding.original(utf8, from, to);
  }

  /** The line end of records read again, in the file's own encoding. */
  byte[] lineEnd(DelimitedLayout layout) {
    byte[] end = {(byte) (layout.lineEnd() == LineEnd.CR ? '\r' : '\n')};
    return transcoding.original(end, 0, 1);
  }

  /** Skips physical lines. */
  void skipLines(int lines, byte lineEnd) throws IOException {
    for (int skipped = 0; skipped < lines; skipped++) {
      int end = DelimitedScanner.find(lineEnd, carry, 0, carry.length);
      while (end < 0 && !ended) {
        takeFromCarry(carry.length);
        readCarry(LOOK);
        end = DelimitedScanner.find(lineEnd, carry, 0, carry.length);
      }
      takeFromCarry(end < 0 ? carry.length : end + 1);
      if (carry.length == 0 && !ended) {
        readCarry(LOOK);
      }
    }
  }

  private void takeFromCarry(int length) {
    offset += transcoding.originalLength(carry, 0, length);
    carry = Arrays.copyOfRange(carry, length, carry.length);
  }

  /** Fills the batch with the next records; false if there are no more. */
  boolean fill(RecordBatch batch, RecordScanner scanner, int mostRecords) throws IOException {
    if (offset >= reach && !scanner.skipping()) {
      return false;
    }
    byte[] carried = scanner.carried();
    int first = carried.length;
    int limit = first + carry.length;
    batch.reset(offset, transcoding, first);
    if (batch.capacity() < limit) {
      batch.growBytes(limit);
    }
    System.arraycopy(carried, 0, batch.bytes(), 0, first);
    System.arraycopy(carry, 0, batch.bytes(), first, carry.length);
    int used = first;
    boolean beyond = false;
    while (true) {
      limit = read(batch, first, used, limit, beyond);
      used = scan(batch, scanner, first, used, limit, mostRecords);
      boolean over = place(batch, first, used) >= reach && !scanner.skipping();
      if (batch.records() > 0 || ended && used >= limit || over) {
        break;
      }
      if (!beyond && !ended && place(batch, first, limit) >= reach) {
        beyond = true; // the record that is at the end of the part continues behind it
      } else if (used > first) {
        // Only blank lines, comments or the rest of a skipped record so far: make room.
        offset += transcoding.originalLength(batch.bytes(), first, used);
        carried = scanner.carried();
        int rest = limit - used;
        first = carried.length;
        batch.growBytes(Math.max(batch.capacity(), first + rest));
        System.arraycopy(batch.bytes(), used, batch.bytes(), first, rest);
        System.arraycopy(carried, 0, batch.bytes(), 0, first);
        limit = first + rest;
        used = first;
        batch.reset(offset, transcoding, first);
      } else if (limit < batch.capacity()) {
        continue; // beyond its part a record is read bit by bit
      } else if (batch.capacity() < recordLimit) {
        batch.growBytes(Math.min(recordLimit, batch.capacity() * 2));
      } else {
        used = scanner.giveUp(batch, used, limit);
        break;
      }
    }
    boolean last = reach < Long.MAX_VALUE && used < limit && batch.records() < mostRecords;
    if (last && place(batch, first, limit) == reach) {
      limit = read(batch, first, used, limit, true); // or its last record were a batch by itself
      used = scan(batch, scanner, first, used, limit, mostRecords);
    }
    carry = Arrays.copyOfRange(batch.bytes(), used, limit);
    offset += transcoding.originalLength(batch.bytes(), first, used);
    return batch.records() > 0;
  }

  /** Reads into the batch behind {@code limit}; gives where the bytes end now. */
  private int read(RecordBatch batch, int first, int used, int limit, boolean beyond)
      throws IOException {
    long ahead = beyond ? Math.max(LOOK_BEYOND, limit - used) : reach - place(batch, first, limit);
    int wanted = (int) Math.max(0, Math.min(batch.capacity() - limit, ahead));
    if (ended || wanted == 0) {
      return limit;
    }
    int read = in.readNBytes(batch.bytes(), limit, wanted);
    ended = read < wanted;
    return limit + read;
  }

  /** Scans for records; of bytes beyond the reach it takes only those of one that starts before. */
  private int scan(
      RecordBatch batch, RecordScanner scanner, int first, int used, int limit, int mostRecords) {
    int most = mostRecords;
    if (reach < Long.MAX_VALUE && place(batch, first, limit) > reach) {
      most = place(batch, first, used) < reach ? 1 : 0;
    }
    if (limit - used <= recordLimit || most == 0) {
      return scanner.scan(batch, used, limit, ended ? Behind.END : Behind.MORE, most);
    }
    return scanWithin(batch, scanner, used, limit, most);
  }

  /**
   * Scans a batch that holds more than a record may have: in windows of the record limit, so that a
   * longer record is given up wherever the batch begins and however large it is.
   */
  private int scanWithin(
      RecordBatch batch, RecordScanner scanner, int used, int limit, int mostRecords) {
    int before = batch.records();
    int at = used;
    while (at < limit && batch.records() - before < mostRecords) {
      int window = Math.min(limit, at + recordLimit);
      Behind behind = ended && window == limit ? Behind.END : Behind.MORE;
      int most = mostRecords - (batch.records() - before);
      int next = scanner.scan(batch, at, window, behind, most);
      if (next == at && window - at < recordLimit) {
        return at;
      }
      boolean given = batch.records() - before < mostRecords;
      at = next == at && given ? scanner.giveUp(batch, at, window) : next;
    }
    return at;
  }

  /** Where in the file's bytes a position of the batch is; without a reach it is not needed. */
  private long place(RecordBatch batch, int first, int position) {
    return reach == Long.MAX_VALUE
        ? 0
        : offset + transcoding.originalLength(batch.bytes(), first, position);
  }

  @Override
  public void close() throws IOException {
    in.close();
  }
}
