package dev.dusky.core.expression;

import dev.dusky.core.type.TypeKind;
import java.util.List;

/** Three-valued logic and the choice among values. What is not needed is not computed. */
final class Logic {

  private Logic() {}

  static Step and(Step left, Step right) {
    return new Step(
        TypeKind.BOOLEAN,
        (s, row) -> {
          boolean known = left.eval(row);
          if (known && left.whole == 0) {
            return s.set(false);
          }
          if (right.eval(row)) {
            return right.whole == 0 ? s.set(false) : known && s.set(true);
          }
          return false;
        });
  }

  static Step or(Step left, Step right) {
    return new Step(
        TypeKind.BOOLEAN,
        (s, row) -> {
          boolean known = left.eval(row);
          if (known && left.whole != 0) {
            return s.set(true);
          }
          if (right.eval(row)) {
            return right.whole != 0 ? s.set(true) : known && s.set(false);
          }
          return false;
        });
  }

  static Step cases(List<Step> conditions, List<Step> results) {
    Step[] when = conditions.toArray(Step[]::new);
    Step[] then = results.toArray(Step[]::new);
    return new Step(
        then[0].type(),
        (s, row) -> {
          for (int i = 0; i < when.length; i++) {
            if (when[i].holds(row)) {
              return then[i].eval(row) && s.take(then[i]);
            }
          }
          return then.length > when.length
              && then[when.length].eval(row)
              && s.take(then[when.length]);
        });
  }

  /** Null where a step has no result. */
  static Step nullWithoutResult(Step a) {
    return new Step(
        a.type(),
        (s, row) -> {
          try {
            return a.eval(row) && s.take(a);
          } catch (NoResult e) {
            return false; // what the standard calls NULL ON ERROR
          }
        });
  }

  /** coalesce, greatest or least; the last two skip nulls. */
  static Step choose(String function, List<Step> parts) {
    Step[] all = parts.toArray(Step[]::new);
    TypeKind kind = all[0].type();
    if (function.equals("coalesce")) {
      return new Step(
          kind,
          (s, row) -> {
            for (Step part : all) {
              if (part.eval(row)) {
                return s.take(part);
              }
            }
            return false;
          });
    }
    int sign = function.equals("greatest") ? 1 : -1;
    return new Step(
        kind,
        (s, row) -> {
          boolean any = false;
          for (Step part : all) {
            if (part.eval(row) && (!any || sign * Comparison.compare(kind, part, s) > 0)) {
              any = s.take(part);
            }
          }
          return any;
        });
  }
}
