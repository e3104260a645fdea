package dev.dusky.core.expression;

import dev.dusky.core.type.TypeKind;
import java.math.BigDecimal;
import java.math.RoundingMode;

/**
 * Arithmetic on two numbers of one type. Decimals are exact; a division has the digits that
 * PostgreSQL's {@code select_div_scale} gives it.
 */
final class Arithmetic {

  private Arithmetic() {}

  static Step of(String operator, TypeKind kind, Step a, Step b) {
    return switch (kind) {
      case SMALLINT, INTEGER, BIGINT -> integer(operator, kind, a, b);
      case DECIMAL -> decimal(operator, a, b);
      default -> floating(operator, kind, a, b);
    };
  }

  static Step negate(Step a) {
    return switch (a.type()) {
      case SMALLINT, INTEGER, BIGINT ->
          new Step(
              a.type(),
              (s, row) -> {
                if (!a.eval(row)) {
                  return false;
                }
                if (a.whole == Long.MIN_VALUE) {
                  throw outOfRange(TypeKind.BIGINT);
                }
                return s.set(inRange(a.type(), -a.whole));
              });
      case DECIMAL ->
          new Step(
              TypeKind.DECIMAL,
              (s, row) ->
                  a.eval(row)
                      && (a.wide == null
                          ? s.setDecimal(-a.unscaled, a.scale)
                          : s.setDecimal(a.wide.negate())));
      default -> new Step(a.type(), (s, row) -> a.eval(row) && s.setReal(-a.real));
    };
  }

  static NoResult outOfRange(TypeKind kind) {
    return new NoResult("the result is out of range for " + kind.sql());
  }

  static NoResult divisionByZero() {
    return new NoResult("a division by zero");
  }

  static long inRange(TypeKind kind, long value) {
    boolean fits =
        switch (kind) {
          case SMALLINT -> value == (short) value;
          case INTEGER -> value == (int) value;
          default -> true;
        };
    if (!fits) {
      throw outOfRange(kind);
    }
    return value;
  }

  private static Step integer(String operator, TypeKind kind, Step a, Step b) {
    return new Step(
        kind,
        switch (operator) {
          case "+" -> (s, row) -> a.eval(row) & b.eval(row) && s.set(add(kind, a.whole, b.whole));
          case "-" ->
              (s, row) -> a.eval(row) & b.eval(row) && s.set(subtract(kind, a.whole, b.whole));
          case "*" ->
              (s, row) -> a.eval(row) & b.eval(row) && s.set(multiply(kind, a.whole, b.whole));
          default ->
              (s, row) -> {
                if (!(a.eval(row) & b.eval(row))) {
                  return false;
                }
                if (b.whole == 0) {
                  throw divisionByZero();
                }
                if (operator.equals("%")) {
                  return s.set(b.whole == -1 ? 0 : a.whole % b.whole);
                }
                if (b.whole == -1 && a.whole == Long.MIN_VALUE) {
                  throw outOfRange(kind);
                }
                return s.set(inRange(kind, a.whole / b.whole));
              };
        });
  }

  private static long add(TypeKind kind, long a, long b) {
    long sum = a + b;
    if (((a ^ sum) & (b ^ sum)) < 0) {
      throw outOfRange(kind);
    }
    return inRange(kind, sum);
  }

  private static long subtract(TypeKind kind, long a, long b) {
    long difference = a - b;
    if (((a ^ b) & (a ^ difference)) < 0) {
      throw outOfRange(kind);
    }
    return inRange(kind, difference);
  }

  private static long multiply(TypeKind kind, long a, long b) {
    long high = Math.multiplyHigh(a, b);
    long low = a * b;
    if (high != low >> 63) {
      throw outOfRange(kind);
    }
    return inRange(kind, low);
  }

  private static Step floating(String operator, TypeKind kind, Step a, Step b) {
    return new Step(
        kind,
        (s, row) -> {
          if (!(a.eval(row) & b.eval(row))) {
            return false;
          }
          double x = a.real;
          double y = b.real;
          if (operator.equals("/") && y == 0 && !Double.isNaN(x)) {
            throw divisionByZero();
          }
          double result =
              switch (operator) {
                case "+" -> x + y;
                case "-" -> x - y;
                case "*" -> x * y;
                default -> x / y;
              };
          result = kind == TypeKind.REAL ? (float) result : result;
          if (Double.isInfinite(result) && !Double.isInfinite(x) && !Double.isInfinite(y)) {
            throw outOfRange(kind);
          }
          boolean product = operator.equals("*") || operator.equals("/");
          if (product && result == 0 && x != 0 && y != 0 && !Double.isInfinite(y)) {
            throw outOfRange(kind);
          }
          return s.setReal(result);
        });
  }

  private static Step decimal(String operator, Step a, Step b) {
    return new Step(
        TypeKind.DECIMAL,
        switch (operator) {
          case "+" -> (s, row) -> a.eval(row) & b.eval(row) && sum(s, a, b, 1);
          case "-" -> (s, row) -> a.eval(row) & b.eval(row) && sum(s, a, b, -1);
          case "*" -> (s, row) -> a.eval(row) & b.eval(row) && product(s, a, b);
          case "%" ->
              (s, row) ->
                  a.eval(row) & b.eval(row) && s.setDecimal(remainder(a.decimal(), b.decimal()));
          default ->
              (s, row) ->
                  a.eval(row) & b.eval(row) && s.setDecimal(quotient(a.decimal(), b.decimal()));
        });
  }

  private static boolean sum(Step s, Step a, Step b, int sign) {
    if (a.wide == null && b.wide == null && a.scale == b.scale) {
      long x = a.unscaled;
      long y = sign * b.unscaled;
      long sum = x + y;
      if (((x ^ sum) & (y ^ sum)) >= 0) {
        return s.setDecimal(sum, a.scale);
      }
    }
    BigDecimal x = a.decimal();
    BigDecimal y = b.decimal();
    return s.setDecimal(sign > 0 ? x.add(y) : x.subtract(y));
  }

  private static boolean product(Step s, Step a, Step b) {
    if (a.wide == null && b.wide == null) {
      long low = a.unscaled * b.unscaled;
      if (Math.multiplyHigh(a.unscaled, b.unscaled) == low >> 63) {
        return s.setDecimal(low, a.scale + b.scale);
      }
    }
    return s.setDecimal(a.decimal().multiply(b.decimal()));
  }

  static BigDecimal remainder(BigDecimal a, BigDecimal b) {
    if (b.signum() == 0) {
      throw divisionByZero();
    }
    return a.remainder(b).setScale(Math.max(a.scale(), b.scale()));
  }

  static BigDecimal quotient(BigDecimal a, BigDecimal b) {
    if (b.signum() == 0) {
      throw divisionByZero();
    }
    int weight = weight(a) - weight(b) - (firstDigit(a) <= firstDigit(b) ? 1 : 0);
    int scale = Math.max(16 - weight * 4, Math.max(0, Math.max(a.scale(), b.scale())));
    return a.divide(b, Math.min(scale, 1000), RoundingMode.HALF_UP);
  }

  /** The power of 10 000 of a number's first digit to that base. */
  private static int weight(BigDecimal value) {
    return value.signum() == 0 ? 0 : Math.floorDiv(value.precision() - value.scale() - 1, 4);
  }

  private static int firstDigit(BigDecimal value) {
    return value.signum() == 0
        ? 0
        : value
            .abs()
            .movePointLeft(4 * weight(value))
            .setScale(0, RoundingMode.DOWN)
            .intValueExact();
  }
}
