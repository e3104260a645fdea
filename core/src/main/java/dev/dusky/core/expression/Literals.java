package dev.dusky.core.expression;

import dev.dusky.core.type.TypeKind;
import java.math.BigDecimal;

/** Steps whose result never changes. */
final class Literals {

  private Literals() {}

  /** A number of the smallest type that holds it: integer, bigint, else decimal. */
  static Step number(int at, String digits) {
    BigDecimal value = new BigDecimal(digits);
    if (value.precision() - (long) value.scale() > 10_000 || value.scale() > 10_000) {
      throw new ExpressionFault(at, "the number is too large");
    }
    boolean whole = digits.matches("-?\\d+") && value.toBigInteger().bitLength() < 64;
    if (whole) {
      long number = value.longValue();
      TypeKind kind = number == (int) number ? TypeKind.INTEGER : TypeKind.BIGINT;
      Step step = new Step(kind, (s, row) -> true);
      step.set(number);
      return step;
    }
    Step step = new Step(TypeKind.DECIMAL, (s, row) -> true);
    step.setDecimal(value);
    return step;
  }

  static Step truth(String word) {
    Step step = new Step(TypeKind.BOOLEAN, (s, row) -> true);
    step.set(word.equals("true"));
    return step;
  }

  static Step nothing(TypeKind kind) {
    return new Step(kind, (s, row) -> false);
  }

  /** The result of a step that reads no column, computed once. */
  static Step fixed(Step step, int at) {
    try {
      boolean there = step.eval(0);
      Step result = new Step(step.type(), (s, row) -> there);
      result.take(step);
      return result;
    } catch (NoResult e) {
      throw new ExpressionFault(at, e.getMessage());
    }
  }
}
