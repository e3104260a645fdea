package dev.dusky.core.expression;

import dev.dusky.core.type.TypeKind;
import java.util.Arrays;
import java.util.List;

/** Comparisons of two values of one type. Texts go by their code points. */
final class Comparison {

  private Comparison() {}

  static Step of(String operator, Step a, Step b) {
    TypeKind kind = a.type();
    int wanted =
        switch (operator) {
          case "=" -> 0b010;
          case "<>" -> 0b101;
          case "<" -> 0b001;
          case "<=" -> 0b011;
          case ">" -> 0b100;
          default -> 0b110;
        };
    return new Step(
        TypeKind.BOOLEAN,
        (s, row) ->
            a.eval(row) & b.eval(row)
                && s.set((wanted >> Integer.signum(compare(kind, a, b)) + 1 & 1) != 0));
  }

  static Step distinct(Step a, Step b, boolean wanted) {
    TypeKind kind = a.type();
    return new Step(
        TypeKind.BOOLEAN,
        (s, row) -> {
          boolean left = a.eval(row);
          boolean right = b.eval(row);
          boolean differ = left != right || left && compare(kind, a, b) != 0;
          return s.set(differ == wanted);
        });
  }

  static Step in(Step operand, List<Step> list, boolean negated) {
    Step[] all = list.toArray(Step[]::new);
    TypeKind kind = operand.type();
    return new Step(
        TypeKind.BOOLEAN,
        (s, row) -> {
          boolean known = operand.eval(row);
          for (Step item : all) {
            boolean there = item.eval(row);
            if (known && there && compare(kind, operand, item) == 0) {
              return s.set(!negated);
            }
            known &= there;
          }
          return known && s.set(negated);
        });
  }

  /** Below, at or above 0 as a is below, equal to or above b. */
  static int compare(TypeKind kind, Step a, Step b) {
    return switch (kind) {
      case REAL, DOUBLE -> Double.compare(a.real == 0 ? 0 : a.real, b.real == 0 ? 0 : b.real);
      case DECIMAL ->
          a.wide == null && b.wide == null && a.scale == b.scale
              ? Long.compare(a.unscaled, b.unscaled)
              : a.decimal().compareTo(b.decimal());
      case TEXT, JSON, BINARY -> Arrays.compareUnsigned(a.b, a.from, a.to, b.b, b.from, b.to);
      case UUID -> {
        int high = Long.compareUnsigned(a.whole, b.whole);
        yield high != 0 ? high : Long.compareUnsigned(a.low, b.low);
      }
      default -> Long.compare(a.whole, b.whole);
    };
  }
}
