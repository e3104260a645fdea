package dev.dusky.core.record;

import dev.dusky.core.expect.ControlFigures;
import dev.dusky.core.expect.Trailer;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.Layout;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** Takes the trailer off a file's records. It must be there, and be the last record. */
public final class TrailerReader implements RecordReader {

  private final String path;
  private final RecordReader reader;
  private final Trailer trailer;
  private final byte[] begins;
  private final FieldText field;
  private volatile ControlFigures figures;
  private long line;

  /** Wraps a reader of delimited or fixed text. */
  public TrailerReader(String path, RecordReader reader, Layout layout, Trailer trailer) {
    this.path = path;
    this.reader = reader;
    this.trailer = trailer;
    this.begins = trailer.begins().getBytes(StandardCharsets.UTF_8);
    this.field = new FieldText(layout);
  }

  /** The reader, without the trailer if the file has one. */
  public static RecordReader around(
      String path, RecordReader reader, Layout layout, Optional<Trailer> trailer) {
    return trailer.isEmpty() ? reader : new TrailerReader(path, reader, layout, trailer.get());
  }

  /** What the trailer states; known once the file was read to its end. */
  public Optional<ControlFigures> figures() {
    return Optional.ofNullable(figures);
  }

  @Override
  public boolean read(RecordBatch batch) throws IOException {
    while (reader.read(batch)) {
      if (figures != null) {
        throw misplaced(line, batch.line(0));
      }
      for (int r = 0; r < batch.records(); r++) {
        if (isTrailer(batch, r)) {
          if (r < batch.records() - 1) {
            throw misplaced(batch.line(r), batch.line(r + 1));
          }
          line = batch.line(r);
          figures = take(batch, r);
          batch.dropLastRecord();
        }
      }
      if (batch.records() > 0) {
        return true;
      }
    }
    if (figures == null) {
      throw Failure.file(path + " has no trailer")
          .because("no record begins with '%s'".formatted(trailer.begins()))
          .next("It may be cut short: ask the sender for the whole file. Nothing was loaded");
    }
    return false;
  }

  private Failure misplaced(long at, long next) {
    return Failure.file(path + " has its trailer in the wrong place")
        .because(
            "line %,d begins with '%s', but records follow from line %,d on"
                .formatted(at, trailer.begins(), next))
        .next("Two files may have been put together: ask the sender. Nothing was loaded");
  }

  private boolean isTrailer(RecordBatch batch, int r) {
    int start = batch.rawStart(r);
    int end = start + begins.length;
    return end <= batch.rawEnd(r)
        && batch.bytes()[start] == begins[0]
        && Arrays.equals(batch.bytes(), start, end, begins, 0, begins.length);
  }

  private ControlFigures take(RecordBatch batch, int r) {
    Optional<Long> rows =
        trailer.rows().map(part -> number(batch, r, part, "rows").longValueExact());
    Map<String, BigDecimal> totals = new TreeMap<>();
    trailer.totals().forEach((name, part) -> totals.put(name, number(batch, r, part, name)));
    return new ControlFigures("its trailer", rows, totals);
  }

  private BigDecimal number(RecordBatch batch, int r, Trailer.Part part, String what) {
    String text = "";
    if (part instanceof Trailer.Field at) {
      if (batch.fault(r) == null && at.position() <= batch.fieldCount(r)) {
        field.locate(batch, batch.firstField(r) + at.position() - 1);
        text = field.toString().strip();
      }
    } else if (part instanceof Trailer.Characters at) {
      String all =
          new String(
              batch.bytes(),
              batch.rawStart(r),
              batch.rawEnd(r) - batch.rawStart(r),
              StandardCharsets.UTF_8);
      int from = Math.min(all.length(), at.start() - 1);
      text = all.substring(from, Math.min(all.length(), from + at.length())).strip();
    }
    try {
      BigDecimal number = new BigDecimal(text);
      return what.equals("rows") ? new BigDecimal(number.longValueExact()) : number;
    } catch (ArithmeticException | NumberFormatException e) {
      throw Failure.file(path + " has a trailer that cannot be read")
          .because("line %,d: '%s' is no number for %s".formatted(batch.line(r), text, what))
          .next("Check expect: trailer in the feed, or ask the sender. Nothing was loaded")
          .from(e);
    }
  }

  @Override
  public List<String> names() {
    return reader.names();
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
  public void close() throws IOException {
    reader.close();
  }
}
