package dev.dusky.core.expect;

import java.time.DayOfWeek;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
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
 * @param loaded rows loaded
 * @param nulls how many of the loaded rows have null, by column, as far as that was counted
 */
public record Volume(
    String path,
    Instant at,
    long rows,
    long bytes,
    long rejected,
    long loaded,
    Map<String, Long> nulls) {

  /**
   * A figure of a file that is unusual.
   *
   * @param words the figure and what is usual
   * @param part by how much it deviates: for rows and bytes as a part of the usual, for a share in
   *     its difference, 0.1 for ten percentage points
   */
  public record Oddity(String words, double part) {}

  public Volume {
    nulls = Map.copyOf(nulls);
  }

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

  /** A share that deviates by less is usual in any case. */
  private static final double LEAST_SHARE = 0.01;

  /**
   * What is unusual against the feed's own past, in words; empty if nothing is, or the past is too
   * short. The measure is robust: the median, and the median of the deviations from it, so that
   * single odd files in the past do not count.
   *
   * @param past earlier files
   */
  public Optional<String> unusual(List<Volume> past) {
    return oddities(past).stream().findFirst().map(Oddity::words);
  }

  /** All that is unusual against the feed's own past, as {@link #unusual} finds it. */
  public List<Oddity> oddities(List<Volume> past) {
    List<Oddity> found = new ArrayList<>();
    if (past.size() < LEAST) {
      return found;
    }
    DayOfWeek weekday = weekday();
    List<Volume> same = past.stream().filter(v -> v.weekday() == weekday).toList();
    List<Volume> usual = same.size() >= LEAST_OF_WEEKDAY ? same : past;
    unusual(usual, v -> v.rows, false, "rows").ifPresent(found::add);
    unusual(usual, v -> v.bytes, false, "bytes").ifPresent(found::add);
    unusual(usual, v -> percent(v.rejected, v.rows), true, "percent of rows rejected")
        .ifPresent(found::add);
    for (String column : nulls.keySet().stream().sorted().toList()) {
      List<Volume> counted = usual.stream().filter(v -> v.nulls.containsKey(column)).toList();
      if (counted.size() >= LEAST_OF_WEEKDAY) {
        unusual(
                counted,
                v -> percent(v.nulls.get(column), v.loaded),
                true,
                "percent of " + column + " null")
            .ifPresent(found::add);
      }
    }
    return found;
  }

  private DayOfWeek weekday() {
    return at.atZone(ZoneOffset.UTC).getDayOfWeek();
  }

  private static double percent(long part, long whole) {
    return whole == 0 ? 0 : 100.0 * part / whole;
  }

  private Optional<Oddity> unusual(
      List<Volume> past, ToDoubleFunction<Volume> measure, boolean percent, String what) {
    double[] values = past.stream().mapToDouble(measure).toArray();
    double median = median(values);
    double deviation =
        median(Arrays.stream(values).map(value -> Math.abs(value - median)).toArray());
    double least = percent ? 100 * LEAST_SHARE : LEAST_PART * median;
    double most = Math.max(DEVIATIONS * NORMAL * deviation, least);
    double value = measure.applyAsDouble(this);
    double difference = Math.abs(value - median);
    return difference > most
        ? Optional.of(
            new Oddity(
                "%s %s, usually %s".formatted(shown(value), what, shown(median)),
                difference / (percent ? 100 : median)))
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
