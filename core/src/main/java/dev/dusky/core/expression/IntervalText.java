package dev.dusky.core.expression;

import java.math.BigDecimal;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** IntervalText of time as {@code interval '1 day 2 hours'} writes them. */
final class IntervalText {

  private static final Pattern PART =
      Pattern.compile("\\s*([-+]?\\d+(?:\\.\\d+)?)\\s*([a-z]+)\\s*", Pattern.CASE_INSENSITIVE);

  private IntervalText() {}

  static Syntax.Interval parse(int at, String text) {
    Matcher part = PART.matcher(text);
    int end = 0;
    long months = 0;
    long days = 0;
    long micros = 0;
    while (part.find() && part.start() == end) {
      end = part.end();
      BigDecimal number = new BigDecimal(part.group(1));
      String unit = part.group(2).toLowerCase(Locale.ROOT).replaceAll("s$", "");
      long whole = number.longValue();
      boolean seconds = unit.equals("second") || unit.equals("sec");
      if (!seconds && number.scale() > 0) {
        throw new ExpressionFault(at, "only seconds may have decimals in an interval");
      }
      switch (unit) {
        case "year" -> months += 12 * whole;
        case "month", "mon" -> months += whole;
        case "week" -> days += 7 * whole;
        case "day" -> days += whole;
        case "hour" -> micros += whole * 3_600_000_000L;
        case "minute", "min" -> micros += whole * 60_000_000L;
        case "second", "sec" -> micros += number.movePointRight(6).longValue();
        default -> throw new ExpressionFault(at, "'" + unit + "' is not a unit of time");
      }
    }
    if (end == 0 || end != text.length()) {
      throw new ExpressionFault(
          at, "'" + text + "' is not an interval; write for instance '2 days 3 hours'");
    }
    return new Syntax.Interval(at, Math.toIntExact(months), Math.toIntExact(days), micros);
  }
}
