package dev.dusky.core.record;

import dev.dusky.core.bytes.BulkStream;
import java.io.IOException;

/**
 * Reads the records that start in a range of a text file, from a start that is known or guessed to
 * the end of the last of them. Lines are counted from 0 in each range. One range after the other;
 * not safe for use by several threads.
 */
public final class RangeReader {

  /** Stands for a range in which no record starts. */
  public static final long NOWHERE = -1;

  private static final int AHEAD = 64 << 10;

  private final TextRanges file;
  private final RangeBytes source;
  private TextRecords text;
  private RecordScanner scanner;

  RangeReader(TextRanges file, RangeBytes source) {
    this.file = file;
    this.source = source;
  }

  /**
   * Goes to the first record that seems to start in a range.
   *
   * @param from where the range starts
   * @param to where it ends
   * @param bytes its bytes, with the one before unless it is the file's first, and some behind it
   * @return where the record starts, or {@link #NOWHERE}
   */
  public long seek(long from, long to, byte[] bytes) {
    long start = file.first();
    if (from > start) {
      int found = file.starts().find(bytes, 1, (int) (to - from + 1), from);
      start = found < 0 ? to : from + found - 1;
    }
    if (start >= to) {
      return NOWHERE;
    }
    seek(from, to, bytes, start);
    return start;
  }

  /** Goes to a record that starts in the range. */
  public void seek(long from, long to, byte[] bytes, long start) {
    long base = Math.max(0, from - 1);
    scanner = file.scanner();
    text =
        new TextRecords(
            file.transcoding()
                .decode(new Onwards(bytes, (int) (start - base), base + bytes.length)),
            file.transcoding(),
            start,
            to,
            file.recordLimit());
  }

  /** Fills the batch with the next records; false if no more start in the range. */
  public boolean read(RecordBatch batch) throws IOException {
    return text.fill(batch, scanner, TextRecords.MOST_RECORDS);
  }

  /** Where the next record starts, once all of the range were read. */
  public long end() {
    return text.offset();
  }

  /** How many physical lines were passed since the start. */
  public long lines() {
    return scanner.line();
  }

  /** The bytes at hand, then those behind them as far as they are asked for. */
  private final class Onwards extends BulkStream {
    private byte[] block;
    private int at;
    private long next;

    Onwards(byte[] part, int at, long next) {
      this.block = part;
      this.at = at;
      this.next = next;
    }

    @Override
    public int read(byte[] buffer, int offset, int length) throws IOException {
      if (at == block.length) {
        block = source.bytes(next, AHEAD);
        next += block.length;
        at = 0;
      }
      int count = Math.min(length, block.length - at);
      if (count == 0) {
        return length == 0 ? 0 : -1;
      }
      System.arraycopy(block, at, buffer, offset, count);
      at += count;
      return count;
    }
  }
}
