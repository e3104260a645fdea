package dev.dusky.core.record;

import dev.dusky.core.bytes.Transcoding;
import java.util.Optional;
import java.util.function.Supplier;

/**
 * What one must know of a text file to read parts of it side by side: where its records begin, how
 * they are found, and how to guess where one starts.
 */
public final class TextRanges {

  private final Transcoding transcoding;
  private final Supplier<RecordScanner> scanners;
  private final RecordStart starts;
  private final int recordLimit;
  private final long first;
  private final long firstLine;

  private TextRanges(
      TextRecords text, Supplier<RecordScanner> scanners, RecordStart starts, long firstLine) {
    this.transcoding = text.transcoding();
    this.scanners = scanners;
    this.starts = starts;
    this.recordLimit = text.recordLimit();
    this.first = text.offset();
    this.firstLine = firstLine;
  }

  /**
   * The ranges of a file of which no record was taken yet; none if its encoding cannot be entered
   * in the middle.
   *
   * @param scanners gives scanners that count lines from 0
   */
  static Optional<TextRanges> of(
      TextRecords text, Supplier<RecordScanner> scanners, RecordStart starts, long firstLine) {
    return text.transcoding().enterable()
        ? Optional.of(new TextRanges(text, scanners, starts, firstLine))
        : Optional.empty();
  }

  /** Where in the file's bytes the first record starts. */
  public long first() {
    return first;
  }

  /** The physical line of the first record, from 1. */
  public long firstLine() {
    return firstLine;
  }

  /** A reader of ranges, for one thread. */
  public RangeReader reader(RangeBytes bytes) {
    return new RangeReader(this, bytes);
  }

  Transcoding transcoding() {
    return transcoding;
  }

  RecordScanner scanner() {
    return scanners.get();
  }

  RecordStart starts() {
    return starts;
  }

  int recordLimit() {
    return recordLimit;
  }
}
