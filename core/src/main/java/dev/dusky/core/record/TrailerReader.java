package dev.dusky.core.record;

import dev.dusky.core.expect.ControlFigures;
import dev.dusky.core.expect.Trailer;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.Layout;
import java.io.IOException;
import java.util.List;
import java.util.Optional;

/** Takes the trailer off a file's records. It must be there, and be the last record. */
public final class TrailerReader implements RecordReader {

  private final String path;
  private final RecordReader reader;
  private final Layout layout;
  private final Trailer trailer;
  private final TrailerFinder finder;
  private volatile ControlFigures figures;
  private long line;

  /** Wraps a reader of delimited or fixed text. */
  public TrailerReader(String path, RecordReader reader, Layout layout, Trailer trailer) {
    this.path = path;
    this.reader = reader;
    this.layout = layout;
    this.trailer = trailer;
    this.finder = finder();
  }

  /** The reader, without the trailer if the file has one. */
  public static RecordReader around(
      String path, RecordReader reader, Layout layout, Optional<Trailer> trailer) {
    return trailer.isEmpty() ? reader : new TrailerReader(path, reader, layout, trailer.get());
  }

  /** The figures of the trailer; known once the file was read to its end. */
  public Optional<ControlFigures> figures() {
    return Optional.ofNullable(figures);
  }

  @Override
  public boolean read(RecordBatch batch) throws IOException {
    while (reader.read(batch)) {
      follows(batch.line(0));
      finder.find(batch).ifPresent(met -> met(met, 0));
      if (batch.records() > 0) {
        return true;
      }
    }
    ended();
    return false;
  }

  /** The finder of the trailer, for use on another thread. */
  TrailerFinder finder() {
    return new TrailerFinder(layout, trailer);
  }

  /** A record is on that line; the trailer must not precede it. */
  void follows(long next) {
    if (figures != null) {
      throw misplaced(line, next);
    }
  }

  /** The trailer was read; its lines are counted after that many others. */
  void met(TrailerFinder.Met met, long linesBefore) {
    line = met.line() + linesBefore;
    if (met.next() != TrailerFinder.NONE) {
      throw misplaced(line, met.next() + linesBefore);
    }
    if (!met.problem().isEmpty()) {
      throw Failure.file(path + " has a trailer that cannot be read")
          .because("line %,d: %s".formatted(line, met.problem()))
          .hint("Check expect: trailer in the feed, or ask the sender. Nothing was loaded");
    }
    figures = met.figures().orElseThrow();
  }

  /** The file has no more records; the trailer must have come. */
  void ended() {
    if (figures == null) {
      throw Failure.file(path + " has no trailer")
          .because("no record begins with '%s'".formatted(trailer.begins()))
          .hint("It may be cut short: ask the sender for the whole file. Nothing was loaded");
    }
  }

  private Failure misplaced(long at, long next) {
    return Failure.file(path + " has its trailer in the wrong place")
        .because(
            "line %,d begins with '%s', but records follow from line %,d on"
                .formatted(at, trailer.begins(), next))
        .hint("Two files may have been put together: ask the sender. Nothing was loaded");
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
  public byte[] preamble() {
    return reader.preamble();
  }

  @Override
  public FieldSplitter splitter() {
    return reader.splitter();
  }

  @Override
  public Optional<TextRanges> ranges() {
    return reader.ranges().map(ranges -> ranges.before(this));
  }

  @Override
  public void close() throws IOException {
    reader.close();
  }
}
