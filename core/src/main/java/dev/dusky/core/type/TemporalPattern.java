package dev.dusky.core.type;

import java.nio.charset.StandardCharsets;
import java.time.DateTimeException;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.time.format.ResolverStyle;
import java.time.temporal.ChronoField;
import java.time.temporal.TemporalAccessor;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/**
 * A declared form of dates and times, in the letters of {@link DateTimeFormatter}. Forms of numbers
 * only (yyyy MM dd HH mm ss S, single M d H for one or two digits, X for an offset) are read from
 * bytes directly; others, such as month names, through the JDK with English texts.
 */
public final class TemporalPattern {

  private enum Step {
    YEAR,
    MONTH,
    MONTH_SHORT,
    DAY,
    DAY_SHORT,
    HOUR,
    HOUR_SHORT,
    MINUTE,
    SECOND,
    FRACTION,
    OFFSET,
    LITERAL
  }

  private final String text;
  private final Step[] steps;
  private final byte[] literals;
  private final DateTimeFormatter formatter;

  private TemporalPattern(String text, List<Step> steps, byte[] literals, DateTimeFormatter f) {
    this.text = text;
    this.steps = steps.toArray(Step[]::new);
    this.literals = literals;
    this.formatter = f;
  }

  /** Whether a moment written in this form can be read back as a value of that kind. */
  public boolean tellsAll(TypeKind kind) {
    ZonedDateTime moment = ZonedDateTime.of(2026, 11, 23, 14, 45, 56, 0, ZoneOffset.ofHours(2));
    String written = DateTimeFormatter.ofPattern(text, Locale.ENGLISH).format(moment);
    ZoneOffset zone = kind == TypeKind.TIMESTAMP_TZ ? moment.getOffset() : null;
    TemporalText reader = new TemporalText(kind, this, zone);
    byte[] bytes = written.getBytes(StandardCharsets.UTF_8);
    long value = reader.parse(bytes, 0, bytes.length);
    if (reader.failure() != null) {
      return false;
    }
    long day = moment.toLocalDate().toEpochDay();
    return kind == TypeKind.TIME
        || (kind == TypeKind.DATE ? value : Math.floorDiv(value, 86_400_000_000L)) == day;
  }

  /**
   * Compiles a pattern.
   *
   * @throws IllegalArgumentException with a message for people if it is not a usable pattern
   */
  public static TemporalPattern of(String text) {
    String bare = text.replaceAll("'[^']*'", "");
    if (bare.matches(".*(?<![yu])(yy|uu)(?![yu]).*")) {
      throw new IllegalArgumentException(
          "'" + text + "' has a year of two digits, whose century is ambiguous");
    }
    List<Step> steps = new ArrayList<>();
    byte[] literals = new byte[text.length() * 3];
    if (compile(text, steps, literals)) {
      return new TemporalPattern(text, steps, literals, null);
    }
    try {
      DateTimeFormatter formatter =
          DateTimeFormatter.ofPattern(text.replace('y', 'u'), Locale.ENGLISH)
              .withResolverStyle(ResolverStyle.STRICT);
      return new TemporalPattern(text, List.of(), literals, formatter);
    } catch (IllegalArgumentException e) {
      throw new IllegalArgumentException(
          "'" + text + "' is not a date or time pattern: " + e.getMessage(), e);
    }
  }

  private static boolean compile(String text, List<Step> steps, byte[] literals) {
    int i = 0;
    while (i < text.length()) {
      char c = text.charAt(i);
      int end = i;
      while (end < text.length() && text.charAt(end) == c) {
        end++;
      }
      int run = end - i;
      Step step =
          switch (c) {
            case 'y', 'u' -> run == 4 ? Step.YEAR : null;
            case 'M' -> run == 2 ? Step.MONTH : run == 1 ? Step.MONTH_SHORT : null;
            case 'd' -> run == 2 ? Step.DAY : run == 1 ? Step.DAY_SHORT : null;
            case 'H' -> run == 2 ? Step.HOUR : run == 1 ? Step.HOUR_SHORT : null;
            case 'm' -> run == 2 ? Step.MINUTE : null;
            case 's' -> run == 2 ? Step.SECOND : null;
            case 'S' -> Step.FRACTION;
            case 'X' -> Step.OFFSET;
            default -> Step.LITERAL;
          };
      if (step == null) {
        return false;
      }
      if (step == Step.LITERAL) {
        if (c == '\'') {
          int close = text.indexOf('\'', i + 1);
          if (close <= i + 1) {
            return false;
          }
          literal(text.substring(i + 1, close), steps, literals);
          end = close + 1;
        } else if (Character.isLetter(c) || c >= 0x80 || "[]{}#".indexOf(c) >= 0) {
          return false;
        } else {
          literal(text.substring(i, end), steps, literals);
        }
      } else {
        steps.add(step);
      }
      i = end;
    }
    return !steps.isEmpty();
  }

  private static void literal(String text, List<Step> steps, byte[] literals) {
    for (byte b : text.getBytes(StandardCharsets.UTF_8)) {
      literals[steps.size()] = b;
      steps.add(Step.LITERAL);
    }
  }

  /** Reads the whole of {@code b[start, end)}; false if it does not have this form. */
  boolean parse(TemporalFields f, byte[] b, int start, int end) {
    if (formatter != null) {
      return parseSlow(f, new String(b, start, end - start, StandardCharsets.UTF_8));
    }
    int at = start;
    for (int i = 0; i < steps.length; i++) {
      Step step = steps[i];
      if (step == Step.LITERAL) {
        if (at >= end || b[at] != literals[i]) {
          return false;
        }
        at++;
        continue;
      }
      if (step == Step.FRACTION) {
        at = IsoTemporal.fraction(f, b, at, end);
        if (at < 0) {
          return false;
        }
        continue;
      }
      if (step == Step.OFFSET) {
        at = IsoTemporal.offset(f, b, at, end);
        if (at < 0) {
          return false;
        }
        continue;
      }
      int width = width(step, b, at, end);
      int value = number(b, at, width, end);
      if (value < 0) {
        return false;
      }
      switch (step) {
        case YEAR -> f.year = value;
        case MONTH, MONTH_SHORT -> f.month = value;
        case DAY, DAY_SHORT -> f.day = value;
        case HOUR, HOUR_SHORT -> f.hour = value;
        case MINUTE -> f.minute = value;
        default -> f.second = value;
      }
      at += width;
    }
    return at == end;
  }

  private static int width(Step step, byte[] b, int at, int end) {
    return switch (step) {
      case YEAR -> 4;
      case MONTH_SHORT, DAY_SHORT, HOUR_SHORT ->
          at + 1 < end && b[at + 1] >= '0' && b[at + 1] <= '9' ? 2 : 1;
      default -> 2;
    };
  }

  private static int number(byte[] b, int at, int width, int end) {
    if (at + width > end) {
      return -1;
    }
    int value = 0;
    for (int i = at; i < at + width; i++) {
      int digit = b[i] - '0';
      if (digit < 0 || digit > 9) {
        return -1;
      }
      value = value * 10 + digit;
    }
    return value;
  }

  private boolean parseSlow(TemporalFields f, String value) {
    TemporalAccessor parsed;
    try {
      parsed = formatter.parse(value);
    } catch (DateTimeException e) {
      return false;
    }
    f.year = get(parsed, ChronoField.YEAR, 0);
    f.month = get(parsed, ChronoField.MONTH_OF_YEAR, 1);
    f.day = get(parsed, ChronoField.DAY_OF_MONTH, 1);
    f.hour = get(parsed, ChronoField.HOUR_OF_DAY, 0);
    f.minute = get(parsed, ChronoField.MINUTE_OF_HOUR, 0);
    f.second = get(parsed, ChronoField.SECOND_OF_MINUTE, 0);
    f.nanos = get(parsed, ChronoField.NANO_OF_SECOND, 0);
    f.offset = get(parsed, ChronoField.OFFSET_SECONDS, TemporalFields.NO_OFFSET);
    return true;
  }

  private static int get(TemporalAccessor parsed, ChronoField field, int otherwise) {
    return parsed.isSupported(field) ? parsed.get(field) : otherwise;
  }

  /** The pattern as declared. */
  @Override
  public String toString() {
    return text;
  }
}
