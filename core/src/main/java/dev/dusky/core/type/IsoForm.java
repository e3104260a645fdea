package dev.dusky.core.type;

import java.time.LocalDate;

/** Dates and times as SQL and ISO 8601 write them, from their stored numbers. */
public final class IsoForm {

  private static final long DAY = 86_400_000_000L;

  private IsoForm() {}

  /** A date: days since 1970-01-01. */
  public static String date(long days) {
    LocalDate date = LocalDate.ofEpochDay(days);
    return "%04d-%02d-%02d".formatted(date.getYear(), date.getMonthValue(), date.getDayOfMonth());
  }

  /** A time of day: microseconds. */
  public static String time(long micros) {
    long seconds = micros / 1_000_000;
    long fraction = micros % 1_000_000;
    String text = "%02d:%02d:%02d".formatted(seconds / 3600, seconds / 60 % 60, seconds % 60);
    return fraction == 0 ? text : (text + ".%06d".formatted(fraction)).replaceAll("0+$", "");
  }

  /** A timestamp: microseconds since 1970-01-01, a blank between date and time. */
  public static String timestamp(long micros) {
    return date(Math.floorDiv(micros, DAY)) + " " + time(Math.floorMod(micros, DAY));
  }
}
