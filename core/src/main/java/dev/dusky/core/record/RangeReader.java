package dev.dusky.core.record;

import dev.dusky.core.bytes.BulkStream;
import java.io.IOException;
import java.util.Optional;

/**
 * Reads the records that start in a range of a text file, from a start that is known or guessed to
 * the end of the last of them. Lines are counted from 0 in each range. One range after the other;
 * not safe for use by several threads.
 */
public final class RangeReader {

  /** Means a range in which no record starts. */
  public static final long NOWHERE = -1;

  private static final int AHEAD = 64 << 10;

  private final TextRanges file;
  private final RangeBytes source;
  private final Optional<TrailerFinder> finder;
  private TextRecords text;
  private RecordScanner scanner;
  private long firstLine;
  private Optional<TrailerFinder.Met> trailer = Optional.empty();

  RangeReader(TextRanges file, RangeBytes source, Optional<TrailerFinder> finder) {
    this.file = file;
    this.source = source;
    this.finder = finder;
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
    firstLine = NOWHERE;
    trailer = Optional.empty();
    text =
        new TextRecords(
            file.transcoding()
                .decode(new Onwards(bytes, (int) (start - base), base + bytes.length)),
            file.transcoding(),
            start,
            to,
            file.recordLimit());
  }

  /** Where in the file's bytes the records that were not given yet start. */
  public long from() {
    return text.offset();
  }

  /** Fills the batch with the next records; false if no more start in the range. */
  public boolean read(RecordBatch batch) throws IOException {
    while (text.fill(batch, scanner, TextRecords.MOST_RECORDS)) {
      firstLine = firstLine == NOWHERE ? batch.line(0) : firstLine;
      finder.ifPresent(found -> lookForTrailer(found, batch));
      if (batch.records() > 0) {
        return true;
      }
    }
    return false;
  }

  private void lookForTrailer(TrailerFinder found, RecordBatch batch) {
    if (trailer.isEmpty()) {
      trailer = found.find(batch);
    } else if (trailer.get().next() == TrailerFinder.NONE) {
      trailer = Optional.of(trailer.get().before(batch.line(0)));
    }
  }

  /** The skipped content, once all of the range were read. */
  public Passed passed() {
    return new Passed(text.offset(), scanner.line(), firstLine, trailer);
  }

  /** A range before that position without a record. */
  public static Passed none(long end) {
    return new Passed(end, 0, NOWHERE, Optional.empty());
  }

  /** A range that was read. */
  public static final class Passed {
    private final long end;
    private final long lines;
    private final long firstLine;
    private final Optional<TrailerFinder.Met> trailer;

    private Passed(long end, long lines, long firstLine, Optional<TrailerFinder.Met> trailer) {
      this.end = end;
      this.lines = lines;
      this.firstLine = firstLine;
      this.trailer = trailer;
    }

    /** Where the next record starts. */
    public long end() {
      return end;
    }

    /** How many physical lines were passed. */
    public long lines() {
      return lines;
    }

    /** The line of its first record, or {@link #NOWHERE}. */
    long firstLine() {
      return firstLine;
    }

    Optional<TrailerFinder.Met> trailer() {
      return trailer;
    }
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
