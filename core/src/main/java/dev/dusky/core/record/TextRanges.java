package dev.dusky.core.record;

import dev.dusky.core.bytes.Transcoding;
import java.util.Optional;
import java.util.function.Supplier;

/**
 * The properties of a text file that are needed to read parts of it concurrently: where its records
 * begin, how they are found, and how to guess where one starts.
 */
public final class TextRanges {

  private final Transcoding transcoding;
  private final Supplier<RecordScanner> scanners;
  private final RecordStart starts;
  private final int recordLimit;
  private final long first;
  private final long firstLine;
  private final Optional<TrailerReader> trailer;

  private TextRanges(
      Transcoding transcoding,
      Supplier<RecordScanner> scanners,
      RecordStart starts,
      int recordLimit,
      long first,
      long firstLine,
      Optional<TrailerReader> trailer) {
    this.transcoding = transcoding;
    this.scanners = scanners;
    this.starts = starts;
    this.recordLimit = recordLimit;
    this.first = first;
    this.firstLine = firstLine;
    this.trailer = trailer;
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
        ? Optional.of(
            new TextRanges(
                text.transcoding(),
                scanners,
                starts,
                text.recordLimit(),
                text.offset(),
                firstLine,
                Optional.empty()))
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

  /** The same of a file that ends with a trailer. */
  TextRanges before(TrailerReader reader) {
    return new TextRanges(
        transcoding, scanners, starts, recordLimit, first, firstLine, Optional.of(reader));
  }

  /** A reader of ranges, for one thread. */
  public RangeReader reader(RangeBytes bytes) {
    return new RangeReader(this, bytes, trailer.map(TrailerReader::finder));
  }

  /** Takes note of a range that was read from the right place; called in the order of the file. */
  public void passed(RangeReader.Passed range, long linesBefore) {
    if (trailer.isPresent() && range.firstLine() >= 0) {
      trailer.get().follows(linesBefore + range.firstLine());
    }
    range.trailer().ifPresent(met -> trailer.orElseThrow().met(met, linesBefore));
  }

  /** Takes note of the file's end. */
  public void ended() {
    trailer.ifPresent(TrailerReader::ended);
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
