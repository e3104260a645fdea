package dev.dusky.app.figures;

import java.math.BigDecimal;
import java.time.Duration;
import java.util.Locale;

/** Numbers as people read them. */
public final class Figures {

  private Figures() {}

  /** A count with a blank between groups of three digits: {@code 12 480}. */
  public static String count(long value) {
    return String.format(Locale.ROOT, "%,d", value).replace(',', ' ');
  }

  /** A number with blanks between groups of three digits before its decimal mark. */
  public static String number(BigDecimal value) {
    int scale = Math.max(0, value.scale());
    return String.format(Locale.ROOT, "%,." + scale + "f", value).replace(',', ' ');
  }

  /** A number of bytes: {@code 812 B}, {@code 4.2 MB}; a kilobyte is 1000 bytes. */
  public static String bytes(long value) {
    return value < 1000 ? value + " B" : scaled(value) + "B";
  }

  /** A rate of rows: {@code 6.6 k rows/s}. */
  public static String rate(long rows, Duration elapsed) {
    return perSecond(rows, elapsed) + " rows/s";
  }

  /** The same without its unit: {@code 6.6 k}. */
  public static String perSecond(long rows, Duration elapsed) {
    double rate = rows / Math.max(elapsed.toNanos() / 1e9, 1e-3);
    return rate < 999.5 ? Long.toString(Math.round(rate)) : scaled(rate);
  }

  private static String scaled(double value) {
    String[] units = {"", "k", "M", "G", "T", "P"};
    int unit = 0;
    double rest = value;
    while (rest >= 999.5 && unit < units.length - 1) {
      rest /= 1000;
      unit++;
    }
    return String.format(Locale.ROOT, rest < 9.95 ? "%.1f " : "%.0f ", rest) + units[unit];
  }

  /** A duration: {@code 0.4 s}, {@code 1 min 20 s}, {@code 2 h 05 min}. */
  public static String duration(Duration value) {
    long seconds = value.toSeconds();
    if (seconds < 60) {
      return String.format(Locale.ROOT, "%.1f s", value.toNanos() / 1e9);
    }
    if (seconds < 3600) {
      return String.format(Locale.ROOT, "%d min %02d s", seconds / 60, seconds % 60);
    }
    return String.format(Locale.ROOT, "%d h %02d min", seconds / 3600, seconds / 60 % 60);
  }

  /** A duration in its largest unit: {@code 40 s}, {@code 12 min}, {@code 3 h}, {@code 5 d}. */
  public static String about(Duration span) {
    long seconds = Math.max(0, span.toSeconds());
    if (seconds < 120) {
      return seconds + " s";
    }
    return seconds < 7200
        ? seconds / 60 + " min"
        : seconds < 172_800 ? seconds / 3600 + " h" : seconds / 86_400 + " d";
  }

  /** A share in percent: {@code 0.14%}. */
  public static String share(long part, long whole) {
    if (whole == 0) {
      return "-";
    }
    double percent = 100.0 * part / whole;
    return String.format(Locale.ROOT, percent < 1 ? "%.2f%%" : "%.1f%%", percent);
  }

  /** A count with its noun: {@code 1 feed}, {@code 3 feeds}. */
  public static String plural(long count, String noun) {
    return count(count) + " " + noun + (count == 1 ? "" : "s");
  }
}
