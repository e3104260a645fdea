package dev.dusky.core.expect;

import java.time.DayOfWeek;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.ToDoubleFunction;

/**
 * How much a posted file brought.
 *
 * @param path the file
 * @param at when it was posted
 * @param rows records read
 * @param bytes stored bytes
 * @param rejected records rejected
 */
public record Volume(String path, Instant at, long rows, long bytes, long rejected) {

  /** The number of earlier files that must be known to say what is usual. */
  public static final int LEAST = 8;

  /** With this many earlier files of the same weekday (UTC) only they count. */
  private static final int LEAST_OF_WEEKDAY = 5;

  /** Factor from the median deviation to the standard deviation of a normal distribution. */
  private static final double NORMAL = 1.4826;

  /** The number of standard deviations beyond which a value is unusual. */
  private static final double DEVIATIONS = 5;

  /** What deviates by a smaller part of the median is usual in any case. */
  private static final double LEAST_PART = 0.2;

  /** A share of rejects that deviates by less is usual in any case. */
  private static final double LEAST_SHARE = 0.01;

  /**
   * What is unusual against the feed's own past, in words; empty if nothing is, or the past is too
   * short. The measure is robust: the median, and the median of the deviations from it, so that
   * single odd files in the past do not count.
   *
   * @param past earlier files
   */
  public Optional<String> unusual(List<Volume> past) {
    DayOfWeek weekday = weekday();
    List<Volume> same = past.stream().filter(v -> v.weekday() == weekday).toList();
    List<Volume> usual = same.size() >= LEAST_OF_WEEKDAY ? same : past;
    if (past.size() < LEAST) {
      return Optional.empty();
    }
    Optional<String> rows = unusual(usual, v -> v.rows, LEAST_PART, "rows");
    Optional<String> size = unusual(usual, v -> v.bytes, LEAST_PART, "bytes");
    Optional<String> share = unusual(usual, Volume::share, 0, "percent of rows rejected");
    return rows.or(() -> size).or(() -> share);
  }

  private DayOfWeek weekday() {
    return at.atZone(ZoneOffset.UTC).getDayOfWeek();
  }

  private double share() {
    return rows == 0 ? 0 : 100.0 * rejected / rows;
  }

  private Optional<String> unusual(
      List<Volume> past, ToDoubleFunction<Volume> measure, double leastPart, String what) {
    double[] values = past.stream().mapToDouble(measure).toArray();
    double median = median(values);
    double deviation =
        median(Arrays.stream(values).map(value -> Math.abs(value - median)).toArray());
    double least = leastPart > 0 ? leastPart * median : 100 * LEAST_SHARE;
    double most = Math.max(DEVIATIONS * NORMAL * deviation, least);
    double value = measure.applyAsDouble(this);
    return Math.abs(value - median) > most
        ? Optional.of("%s %s, usually %s".formatted(shown(value), what, shown(median)))
        : Optional.empty();
  }

  private static String shown(double value) {
    return value == Math.rint(value)
        ? String.format(Locale.ROOT, "%.0f", value)
        : String.format(Locale.ROOT, "%.1f", value);
  }

  private static double median(double[] values) {
    double[] sorted = values.clone();
    Arrays.sort(sorted);
    int middle = sorted.length / 2;
    return sorted.length % 2 == 1 ? sorted[middle] : (sorted[middle - 1] + sorted[middle]) / 2;
  }
}
