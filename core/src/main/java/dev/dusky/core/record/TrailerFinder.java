package dev.dusky.core.record;

import dev.dusky.core.expect.ControlFigures;
import dev.dusky.core.expect.Trailer;
import dev.dusky.core.layout.Layout;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** Finds a trailer among records and reads what it states. For one thread. */
final class TrailerFinder {

  /** Means no line. */
  static final long NONE = -1;

  /**
   * A trailer as it was met.
   *
   * @param line its line, as the batch counts
   * @param next the line of a record behind it, or {@link #NONE}
   * @param figures what it states, if that can be read
   * @param problem what cannot be read, or an empty text
   */
  record Met(long line, long next, Optional<ControlFigures> figures, String problem) {
    Met before(long line) {
      return new Met(this.line, line, figures, problem);
    }
  }

  private final Trailer trailer;
  private final byte[] begins;
  private final FieldText field;
  private String problem = "";

  TrailerFinder(Layout layout, Trailer trailer) {
    this.trailer = trailer;
    this.begins = trailer.begins().getBytes(StandardCharsets.UTF_8);
    this.field = new FieldText(layout);
  }

  /** Looks for the trailer; one that is the last record is taken off the batch. */
  Optional<Met> find(RecordBatch batch) {
    for (int r = 0; r < batch.records(); r++) {
      if (isTrailer(batch, r)) {
        if (r < batch.records() - 1) {
          return Optional.of(new Met(batch.line(r), batch.line(r + 1), Optional.empty(), ""));
        }
        long line = batch.line(r);
        problem = "";
        ControlFigures figures = take(batch, r);
        batch.dropLastRecord();
        return Optional.of(new Met(line, NONE, Optional.of(figures), problem));
      }
    }
    return Optional.empty();
  }

  private boolean isTrailer(RecordBatch batch, int r) {
    int start = batch.rawStart(r);
    int end = start + begins.length;
    return end <= batch.rawEnd(r)
        && batch.bytes()[start] == begins[0]
        && Arrays.equals(batch.bytes(), start, end, begins, 0, begins.length);
  }

  private ControlFigures take(RecordBatch batch, int r) {
    Optional<Long> rows = trailer.rows().map(part -> number(batch, r, part, "rows").longValue());
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
      if (problem.isEmpty()) {
        problem = "'%s' is not a number for %s".formatted(text, what);
      }
      return BigDecimal.ZERO;
    }
  }
}
