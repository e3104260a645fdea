package dev.dusky.core.expression;

import dev.dusky.core.type.TypeKind;
import java.math.BigDecimal;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.temporal.IsoFields;
import java.time.temporal.WeekFields;
import java.util.Locale;

/** Functions and arithmetic of dates and times. */
final class DateFunctions {

  private static final long DAY = 86_400_000_000L;
  private static final long JULIAN_OF_1970 = 2_440_588;
  private static final long LEAST_DAY = LocalDate.of(1, 1, 1).toEpochDay();
  private static final long MOST_DAY = LocalDate.of(9999, 12, 31).toEpochDay();

  private DateFunctions() {}

  static void register() {
    for (TypeKind kind :
        new TypeKind[] {TypeKind.DATE, TypeKind.TIME, TypeKind.TIMESTAMP, TypeKind.TIMESTAMP_TZ}) {
      Functions.add(
          "extract",
          2,
          a ->
              new Step(
                  TypeKind.DECIMAL,
                  (s, row) ->
                      a[0].eval(row) & a[1].eval(row)
                          && s.setDecimal(extract(TextFunctions.word(a[0]), kind, a[1].whole))),
          TypeKind.TEXT,
          kind);
    }
    for (TypeKind kind : new TypeKind[] {TypeKind.TIMESTAMP, TypeKind.TIMESTAMP_TZ}) {
      Functions.add(
          "date_trunc",
          2,
          a ->
              new Step(
                  kind,
                  (s, row) ->
                      a[0].eval(row) & a[1].eval(row)
                          && s.set(truncated(TextFunctions.word(a[0]), a[1].whole))),
          TypeKind.TEXT,
          kind);
    }
    Functions.check(
        "extract", 0, (field, a) -> extract(field.toLowerCase(Locale.ROOT), a[1].type(), 0));
    Functions.check("date_trunc", 0, (unit, a) -> truncated(unit.toLowerCase(Locale.ROOT), 0));
    Functions.add(
        "make_date",
        3,
        a ->
            new Step(
                TypeKind.DATE,
                (s, row) ->
                    a[0].eval(row) & a[1].eval(row) & a[2].eval(row)
                        && s.set(day(a[0].whole, a[1].whole, a[2].whole))),
        TypeKind.INTEGER,
        TypeKind.INTEGER,
        TypeKind.INTEGER);
    Functions.add(
        "make_timestamp",
        6,
        DateFunctions::makeTimestamp,
        TypeKind.INTEGER,
        TypeKind.INTEGER,
        TypeKind.INTEGER,
        TypeKind.INTEGER,
        TypeKind.INTEGER,
        TypeKind.DOUBLE);
  }

  private static Step makeTimestamp(Step[] a) {
    return new Step(
        TypeKind.TIMESTAMP,
        (s, row) -> {
          boolean known = true;
          for (Step argument : a) {
            known &= argument.eval(row);
          }
          if (!known) {
            return false;
          }
          long hour = a[3].whole;
          long minute = a[4].whole;
          double second = a[5].real;
          boolean exists =
              hour >= 0
                  && minute >= 0
                  && minute < 60
                  && second >= 0
                  && second <= 60
                  && (hour < 24 || hour == 24 && minute == 0 && second == 0);
          if (!exists) {
            throw new NoResult("there is no such time of day");
          }
          long micros = (hour * 60 + minute) * 60_000_000L + (long) Math.rint(second * 1_000_000);
          return s.set(day(a[0].whole, a[1].whole, a[2].whole) * DAY + micros);
        });
  }

  private static long day(long year, long month, long day) {
    try {
      long result = LocalDate.of((int) year, (int) month, (int) day).toEpochDay();
      if (year < 1) {
        throw new NoResult("there is no day %d-%02d-%02d".formatted(year, month, day));
      }
      return result;
    } catch (DateTimeException e) {
      throw new NoResult("there is no day %d-%02d-%02d".formatted(year, month, day));
    }
  }

  private static NoResult unknown(String field, TypeKind kind) {
    return new NoResult("%s cannot be taken from a %s".formatted(field, kind.sql()));
  }

  private static BigDecimal extract(String field, TypeKind kind, long value) {
    boolean timeOnly = kind == TypeKind.TIME;
    long days = timeOnly ? 0 : kind == TypeKind.DATE ? value : Math.floorDiv(value, DAY);
    long micros = kind == TypeKind.DATE ? 0 : timeOnly ? value : Math.floorMod(value, DAY);
    switch (field) {
      case "microseconds", "milliseconds", "second", "minute", "hour" -> {
        if (kind == TypeKind.DATE) {
          throw unknown(field, kind);
        }
        long inMinute = micros % 60_000_000;
        return switch (field) {
          case "microseconds" -> BigDecimal.valueOf(inMinute);
          case "milliseconds" -> BigDecimal.valueOf(inMinute, 3);
          case "second" -> BigDecimal.valueOf(inMinute, 6);
          case "minute" -> BigDecimal.valueOf(micros / 60_000_000 % 60);
          default -> BigDecimal.valueOf(micros / 3_600_000_000L);
        };
      }
      case "epoch" -> {
        return kind == TypeKind.DATE
            ? BigDecimal.valueOf(value * 86_400)
            : BigDecimal.valueOf(value, 6);
      }
      default -> {
        if (timeOnly) {
          throw unknown(field, kind);
        }
      }
    }
    LocalDate date = LocalDate.ofEpochDay(days);
    long result =
        switch (field) {
          case "day" -> date.getDayOfMonth();
          case "month" -> date.getMonthValue();
          case "quarter" -> date.get(IsoFields.QUARTER_OF_YEAR);
          case "year" -> date.getYear();
          case "decade" -> Math.floorDiv(date.getYear(), 10);
          case "century" -> (date.getYear() + 99) / 100;
          case "millennium" -> (date.getYear() + 999) / 1000;
          case "dow" -> date.getDayOfWeek().getValue() % 7;
          case "isodow" -> date.getDayOfWeek().getValue();
          case "doy" -> date.getDayOfYear();
          case "julian" -> julian(days, kind);
          case "week" -> date.get(WeekFields.ISO.weekOfWeekBasedYear());
          case "isoyear" -> date.get(WeekFields.ISO.weekBasedYear());
          default -> throw unknown(field, kind);
        };
    return BigDecimal.valueOf(result);
  }

  /** Days since 4714-11-24 before Christ, which dates alone have as a whole number. */
  private static long julian(long days, TypeKind kind) {
    if (kind != TypeKind.DATE) {
      throw new NoResult("julian can only be extracted from a date; cast to it first");
    }
    return days + JULIAN_OF_1970;
  }

  private static long truncated(String unit, long micros) {
    long days = Math.floorDiv(micros, DAY);
    LocalDate date = LocalDate.ofEpochDay(days);
    return switch (unit) {
      case "microseconds" -> micros;
      case "milliseconds" -> micros - Math.floorMod(micros, 1_000L);
      case "second" -> micros - Math.floorMod(micros, 1_000_000L);
      case "minute" -> micros - Math.floorMod(micros, 60_000_000L);
      case "hour" -> micros - Math.floorMod(micros, 3_600_000_000L);
      case "day" -> days * DAY;
      case "week" -> (days - (date.getDayOfWeek().getValue() - 1)) * DAY;
      case "month" -> date.withDayOfMonth(1).toEpochDay() * DAY;
      case "quarter" ->
          date.withMonth((date.getMonthValue() - 1) / 3 * 3 + 1).withDayOfMonth(1).toEpochDay()
              * DAY;
      case "year" -> date.withDayOfYear(1).toEpochDay() * DAY;
      case "decade" -> yearStart(date.getYear() / 10 * 10);
      case "century" -> yearStart((date.getYear() - 1) / 100 * 100 + 1);
      case "millennium" -> yearStart((date.getYear() - 1) / 1000 * 1000 + 1);
      default -> throw new NoResult("'" + unit + "' is not a unit for date_trunc");
    };
  }

  private static long yearStart(int year) {
    return checked(LocalDate.of(year, 1, 1).toEpochDay()) * DAY;
  }

  /** date + integer, date - integer, date - date. */
  static Step arithmetic(int at, String operator, Step a, Step b) {
    boolean left = a.type() == TypeKind.DATE;
    boolean right = b.type() == TypeKind.DATE;
    if (operator.equals("-") && left && right) {
      return new Step(
          TypeKind.INTEGER, (s, row) -> a.eval(row) & b.eval(row) && s.set(a.whole - b.whole));
    }
    Step date = left ? a : b;
    Step days = left ? b : a;
    boolean integer = days.type() == TypeKind.INTEGER || days.type() == TypeKind.SMALLINT;
    if (!integer || !operator.equals("+") && !(operator.equals("-") && left)) {
      throw new ExpressionFault(
          at, "only whole days or an interval can be added to, or taken from, a date");
    }
    int sign = operator.equals("+") ? 1 : -1;
    return new Step(
        TypeKind.DATE,
        (s, row) ->
            date.eval(row) & days.eval(row) && s.set(checked(date.whole + sign * days.whole)));
  }

  private static long checked(long days) {
    if (days < LEAST_DAY || days > MOST_DAY) {
      throw new NoResult("the result is outside the years 1 to 9999");
    }
    return days;
  }

  /** A date or time plus or minus a span. */
  static Step shift(int at, Step a, Syntax.Interval span, String operator) {
    if (!a.type().isTemporal() || !operator.equals("+") && !operator.equals("-")) {
      throw new ExpressionFault(
          at, "an interval can only be added to, or taken from, a date or time");
    }
    int sign = operator.equals("+") ? 1 : -1;
    if (a.type() == TypeKind.TIME) {
      return new Step(
          TypeKind.TIME,
          (s, row) -> a.eval(row) && s.set(Math.floorMod(a.whole + sign * span.micros(), DAY)));
    }
    TypeKind kind = a.type() == TypeKind.DATE ? TypeKind.TIMESTAMP : a.type();
    Step moment = Casts.to(a, kind);
    return new Step(
        kind,
        (s, row) -> {
          if (!moment.eval(row)) {
            return false;
          }
          long days = Math.floorDiv(moment.whole, DAY);
          long micros = Math.floorMod(moment.whole, DAY);
          if (span.months() != 0) {
            days = LocalDate.ofEpochDay(days).plusMonths(sign * (long) span.months()).toEpochDay();
          }
          long result =
              checked(days + sign * (long) span.days()) * DAY + micros + sign * span.micros();
          checked(Math.floorDiv(result, DAY));
          return s.set(result);
        });
  }
}
