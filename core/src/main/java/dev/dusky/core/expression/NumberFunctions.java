package dev.dusky.core.expression;

import dev.dusky.core.type.TypeKind;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.function.DoubleUnaryOperator;

/** Functions of numbers. */
final class NumberFunctions {

  private NumberFunctions() {}

  static void register() {
    for (TypeKind kind : new TypeKind[] {TypeKind.SMALLINT, TypeKind.INTEGER, TypeKind.BIGINT}) {
      Functions.add(
          "abs",
          1,
          a ->
              new Step(
                  kind,
                  (s, row) -> {
                    if (!a[0].eval(row)) {
                      return false;
                    }
                    if (a[0].whole == Long.MIN_VALUE) {
                      throw Arithmetic.outOfRange(kind);
                    }
                    return s.set(Arithmetic.inRange(kind, Math.abs(a[0].whole)));
                  }),
          kind);
      Functions.add("mod", 2, a -> Arithmetic.of("%", kind, a[0], a[1]), kind, kind);
    }
    Functions.add(
        "mod",
        2,
        a -> Arithmetic.of("%", TypeKind.DECIMAL, a[0], a[1]),
        TypeKind.DECIMAL,
        TypeKind.DECIMAL);
    exact("abs", BigDecimal::abs);
    real("abs", Math::abs);
    Functions.add(
        "abs",
        1,
        a -> new Step(TypeKind.REAL, (s, row) -> a[0].eval(row) && s.setReal(Math.abs(a[0].real))),
        TypeKind.REAL);
    exact("ceil", x -> x.setScale(0, RoundingMode.CEILING));
    real("ceil", Math::ceil);
    exact("ceiling", x -> x.setScale(0, RoundingMode.CEILING));
    real("ceiling", Math::ceil);
    exact("floor", x -> x.setScale(0, RoundingMode.FLOOR));
    real("floor", Math::floor);
    exact("round", x -> x.setScale(0, RoundingMode.HALF_UP));
    real("round", Math::rint);
    digits("round", RoundingMode.HALF_UP);
    exact("trunc", x -> x.setScale(0, RoundingMode.DOWN));
    real("trunc", x -> x < 0 ? Math.ceil(x) : Math.floor(x));
    digits("trunc", RoundingMode.DOWN);
    exact("sign", x -> BigDecimal.valueOf(x.signum()));
    real("sign", Math::signum);
    root();
    real("exp", x -> finite(Math.exp(x), x));
    real("ln", x -> logarithm(x, Math.log(x)));
    real("log", x -> logarithm(x, Math.log10(x)));
    Functions.add(
        "power",
        2,
        a ->
            new Step(
                TypeKind.DOUBLE,
                (s, row) ->
                    a[0].eval(row) & a[1].eval(row) && s.setReal(power(a[0].real, a[1].real))),
        TypeKind.DOUBLE,
        TypeKind.DOUBLE);
  }

  private static void root() {
    real(
        "sqrt",
        x -> {
          if (x < 0) {
            throw new NoResult("there is no square root of a negative number");
          }
          return Math.sqrt(x);
        });
  }

  private static double logarithm(double x, double result) {
    if (x <= 0) {
      throw new NoResult("there is no logarithm of zero or a negative number");
    }
    return result;
  }

  private static double finite(double result, double x) {
    if (Double.isInfinite(result) && !Double.isInfinite(x)
        || result == 0 && !Double.isInfinite(x)) {
      throw Arithmetic.outOfRange(TypeKind.DOUBLE);
    }
    return result;
  }

  private static double power(double x, double y) {
    if (x == 0 && y < 0) {
      throw new NoResult("zero to a negative power is undefined");
    }
    if (x < 0 && y != Math.rint(y)) {
      throw new NoResult("a negative number to a power that is not whole is undefined");
    }
    double result = Math.pow(x, y);
    if (Double.isInfinite(result) && !Double.isInfinite(x) && !Double.isInfinite(y)) {
      throw Arithmetic.outOfRange(TypeKind.DOUBLE);
    }
    return result;
  }

  /** A function of an exact decimal number. */
  private interface Exact {
    BigDecimal of(BigDecimal value);
  }

  private static void exact(String name, Exact function) {
    Functions.add(
        name,
        1,
        a ->
            new Step(
                TypeKind.DECIMAL,
                (s, row) -> a[0].eval(row) && s.setDecimal(function.of(a[0].decimal()))),
        TypeKind.DECIMAL);
  }

  private static void real(String name, DoubleUnaryOperator function) {
    Functions.add(
        name,
        1,
        a ->
            new Step(
                TypeKind.DOUBLE,
                (s, row) -> a[0].eval(row) && s.setReal(function.applyAsDouble(a[0].real))),
        TypeKind.DOUBLE);
  }

  /** Rounds a decimal number to that many digits after the point, or before it if negative. */
  private static void digits(String name, RoundingMode mode) {
    Functions.add(
        name,
        2,
        a ->
            new Step(
                TypeKind.DECIMAL,
                (s, row) -> {
                  if (!(a[0].eval(row) & a[1].eval(row))) {
                    return false;
                  }
                  int digits = (int) Math.max(-2000, Math.min(2000, a[1].whole));
                  BigDecimal rounded = a[0].decimal().setScale(digits, mode);
                  return s.setDecimal(digits < 0 ? rounded.setScale(0) : rounded);
                }),
        TypeKind.DECIMAL,
        TypeKind.INTEGER);
  }
}
