package dev.dusky.core.expression;

import dev.dusky.core.json.JsonTree;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TemporalText;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.type.UuidText;
import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;
import java.time.ZoneOffset;
import java.util.Locale;

/** Turns values of one type into another. */
final class Casts {

  private static final long DAY = 86_400_000_000L;

  private Casts() {}

  /** Whether a cast between two types exists. */
  static boolean possible(TypeKind from, TypeKind to) {
    if (from == to || from == TypeKind.TEXT || to == TypeKind.TEXT) {
      return from == to || from != TypeKind.BINARY && to != TypeKind.BINARY;
    }
    if (from.isNumber() && to.isNumber() || Kinds.isDate(from) && Kinds.isDate(to)) {
      return true;
    }
    boolean truth =
        from == TypeKind.BOOLEAN && to == TypeKind.INTEGER
            || from == TypeKind.INTEGER && to == TypeKind.BOOLEAN;
    return truth || to == TypeKind.TIME && Kinds.isDate(from) && from != TypeKind.DATE;
  }

  /** The step's result as another type; the cast must be possible. */
  static Step to(Step a, TypeKind kind) {
    if (a.type() == kind) {
      return a;
    }
    if (kind == TypeKind.TEXT) {
      return TextForms.step(a);
    }
    if (a.type() == TypeKind.TEXT) {
      return fromText(a, kind);
    }
    return switch (kind) {
      case SMALLINT, INTEGER, BIGINT ->
          new Step(kind, (s, row) -> a.eval(row) && s.set(Arithmetic.inRange(kind, whole(a))));
      case DECIMAL -> new Step(kind, (s, row) -> a.eval(row) && decimal(s, a));
      case REAL -> new Step(kind, (s, row) -> a.eval(row) && s.setReal(single(a)));
      case DOUBLE -> new Step(kind, (s, row) -> a.eval(row) && s.setReal(real(a)));
      case BOOLEAN -> new Step(kind, (s, row) -> a.eval(row) && s.set(a.whole != 0));
      case DATE -> new Step(kind, (s, row) -> a.eval(row) && s.set(Math.floorDiv(a.whole, DAY)));
      case TIME -> new Step(kind, (s, row) -> a.eval(row) && s.set(Math.floorMod(a.whole, DAY)));
      default ->
          a.type() == TypeKind.DATE
              ? new Step(kind, (s, row) -> a.eval(row) && s.set(a.whole * DAY))
              : new Step(kind, (s, row) -> a.eval(row) && s.set(a.whole));
    };
  }

  private static long whole(Step a) {
    if (a.type() == TypeKind.DECIMAL) {
      if (a.wide == null && a.scale == 0) {
        return a.unscaled;
      }
      BigDecimal rounded = a.decimal().setScale(0, RoundingMode.HALF_UP);
      if (rounded.unscaledValue().bitLength() > 63) {
        throw Arithmetic.outOfRange(TypeKind.BIGINT);
      }
      return rounded.longValueExact();
    }
    if (Kinds.isFloat(a.type())) {
      double rounded = Math.rint(a.real);
      if (!(rounded >= -0x1p63 && rounded < 0x1p63)) {
        throw Arithmetic.outOfRange(TypeKind.BIGINT);
      }
      return (long) rounded;
    }
    return a.whole;
  }

  private static boolean decimal(Step s, Step a) {
    if (!Kinds.isFloat(a.type())) {
      return s.setDecimal(a.whole, 0);
    }
    if (Double.isNaN(a.real) || Double.isInfinite(a.real)) {
      throw new NoResult("NaN and infinity are not decimal numbers");
    }
    // PostgreSQL goes through the digits that each type can be trusted with.
    int digits = a.type() == TypeKind.REAL ? 6 : 15;
    BigDecimal rounded =
        new BigDecimal(a.real).round(new MathContext(digits, RoundingMode.HALF_EVEN));
    BigDecimal bare = rounded.signum() == 0 ? BigDecimal.ZERO : rounded.stripTrailingZeros();
    return s.setDecimal(bare);
  }

  private static double real(Step a) {
    return a.type() == TypeKind.DECIMAL
        ? a.decimal().doubleValue()
        : a.type() == TypeKind.REAL ? a.real : (double) a.whole;
  }

  private static double single(Step a) {
    double value =
        a.type() == TypeKind.DECIMAL
            ? a.decimal().floatValue()
            : Kinds.isFloat(a.type()) ? (float) a.real : (float) a.whole;
    if (Double.isInfinite(value) && !(Kinds.isFloat(a.type()) && Double.isInfinite(a.real))) {
      throw Arithmetic.outOfRange(TypeKind.REAL);
    }
    return value;
  }

  private static NoResult unreadable(Step a, TypeKind kind) {
    String text = a.text();
    String shown = text.length() > 60 ? text.substring(0, 59) + "\u2026" : text;
    return new NoResult("'%s' is not a value of type %s".formatted(shown, kind.sql()));
  }

  private static Step fromText(Step a, TypeKind kind) {
    return switch (kind) {
      case SMALLINT, INTEGER, BIGINT, DECIMAL, REAL, DOUBLE ->
          new Step(kind, (s, row) -> a.eval(row) && number(s, a, kind));
      case BOOLEAN -> new Step(kind, (s, row) -> a.eval(row) && truth(s, a));
      case UUID -> {
        UuidText text = new UuidText();
        yield new Step(
            kind,
            (s, row) -> {
              if (!a.eval(row)) {
                return false;
              }
              if (!text.parse(a.b, a.from, a.to)) {
                throw unreadable(a, kind);
              }
              s.low = text.low();
              return s.set(text.high());
            });
      }
      case JSON -> {
        JsonTree tree = new JsonTree();
        yield new Step(
            kind,
            (s, row) -> {
              if (!a.eval(row)) {
                return false;
              }
              if (!tree.read(a.b, a.from, a.to)) {
                throw unreadable(a, kind);
              }
              return s.setText(a.b, a.from, a.to);
            });
      }
      case DATE, TIME, TIMESTAMP, TIMESTAMP_TZ -> {
        TemporalText text =
            new TemporalText(kind, null, kind == TypeKind.TIMESTAMP_TZ ? ZoneOffset.UTC : null);
        yield new Step(
            kind,
            (s, row) -> {
              if (!a.eval(row)) {
                return false;
              }
              int from = a.from;
              int to = a.to;
              while (from < to && a.b[from] == ' ') {
                from++;
              }
              while (to > from && a.b[to - 1] == ' ') {
                to--;
              }
              long value = text.parse(a.b, from, to);
              if (text.failure() != null) {
                throw unreadable(a, kind);
              }
              return s.set(value);
            });
      }
      default -> throw new IllegalArgumentException("no cast from text to " + kind);
    };
  }

  private static boolean number(Step s, Step a, TypeKind kind) {
    String text = a.text().strip();
    if (kind.isInteger()) {
      if (!text.matches("[-+]?\\d{1,30}")) {
        throw unreadable(a, kind);
      }
      BigDecimal value = new BigDecimal(text);
      if (value.unscaledValue().bitLength() > 63) {
        throw Arithmetic.outOfRange(kind);
      }
      return s.set(Arithmetic.inRange(kind, value.longValueExact()));
    }
    boolean digits = text.matches("[-+]?(\\d+\\.?\\d*|\\.\\d+)([eE][-+]?\\d{1,4})?");
    if (kind == TypeKind.DECIMAL) {
      if (!digits) {
        throw unreadable(a, kind);
      }
      return s.setDecimal(new BigDecimal(text));
    }
    String bare = text.toLowerCase(Locale.ROOT).replaceFirst("^[-+]", "");
    if (!digits && !bare.equals("nan") && !bare.equals("infinity") && !bare.equals("inf")) {
      throw unreadable(a, kind);
    }
    if (!digits) {
      double special = bare.equals("nan") ? Double.NaN : Double.POSITIVE_INFINITY;
      return s.setReal(text.startsWith("-") ? -special : special);
    }
    double value = kind == TypeKind.REAL ? Float.parseFloat(text) : Double.parseDouble(text);
    boolean vanished = value == 0 && text.split("[eE]", 2)[0].matches(".*[1-9].*");
    if (Double.isInfinite(value) || vanished) {
      throw Arithmetic.outOfRange(kind);
    }
    return s.setReal(value);
  }

  private static boolean truth(Step s, Step a) {
    String text = a.text().strip().toLowerCase(Locale.ROOT);
    boolean yes =
        !text.isEmpty() && ("true".startsWith(text) || "yes".startsWith(text))
            || text.equals("on")
            || text.equals("1");
    boolean no =
        !text.isEmpty() && ("false".startsWith(text) || "no".startsWith(text))
            || text.equals("off")
            || text.equals("of")
            || text.equals("0");
    if (yes == no) {
      throw unreadable(a, TypeKind.BOOLEAN);
    }
    return s.set(yes);
  }

  /** Brings a result to the size of a declared type, as an explicit cast does. */
  static Step sized(Step a, SqlType type) {
    if (type.kind() == TypeKind.DECIMAL && type.precision() > 0) {
      return new Step(
          TypeKind.DECIMAL, (s, row) -> a.eval(row) && s.setDecimal(fitted(a.decimal(), type)));
    }
    if (type.kind().isText() && (type.length() > 0 || type.kind() == TypeKind.CHAR)) {
      boolean padded = type.kind() == TypeKind.CHAR;
      return new Step(
          TypeKind.TEXT,
          (s, row) -> {
            if (!a.eval(row)) {
              return false;
            }
            int to = TextFunctions.skip(a.b, a.from, a.to, type.length());
            while (padded && to > a.from && a.b[to - 1] == ' ') {
              to--;
            }
            return s.setText(a.b, a.from, to);
          });
    }
    return a;
  }

  private static BigDecimal fitted(BigDecimal value, SqlType type) {
    BigDecimal rounded = value.setScale(type.scale(), RoundingMode.HALF_UP);
    if (rounded.signum() != 0 && rounded.precision() > type.precision()) {
      throw new NoResult("the result is out of range for " + type);
    }
    return rounded;
  }
}
