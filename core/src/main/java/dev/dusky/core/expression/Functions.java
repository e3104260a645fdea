package dev.dusky.core.expression;

import dev.dusky.core.type.TypeKind;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** The catalogue of functions: names, parameters, and what makes the step. */
final class Functions {

  /** Makes a function's step from arguments that have the declared types. */
  @FunctionalInterface
  interface Maker {
    Step make(Step[] arguments);
  }

  /**
   * A function.
   *
   * @param parameters the types of its arguments; null takes any type as it is
   * @param least how many must be given
   * @param repeat whether the last parameter may be given any number of times
   */
  private record Function(List<TypeKind> parameters, int least, boolean repeat, Maker maker) {}

  /** Looks at an argument that is written in the expression; {@link NoResult} if it cannot be. */
  @FunctionalInterface
  interface Check {
    void look(String literal, Step[] arguments);
  }

  /** The check of one argument of a function. */
  private record Checked(int argument, Check check) {}

  private static final Map<String, List<Function>> ALL = new LinkedHashMap<>();
  private static final Map<String, Checked> CHECKS = new HashMap<>();

  static {
    TextFunctions.register();
    NumberFunctions.register();
    DateFunctions.register();
    JsonFunctions.register();
  }

  private Functions() {}

  static void add(String name, int least, Maker maker, TypeKind... parameters) {
    ALL.computeIfAbsent(name, n -> new ArrayList<>())
        .add(new Function(java.util.Arrays.asList(parameters), least, false, maker));
  }

  /** An argument that is wrong for every row is reported when the expression is compiled. */
  static void check(String name, int argument, Check check) {
    CHECKS.put(name, new Checked(argument, check));
  }

  static void addRepeating(String name, int least, Maker maker, TypeKind... parameters) {
    ALL.computeIfAbsent(name, n -> new ArrayList<>())
        .add(new Function(java.util.Arrays.asList(parameters), least, true, maker));
  }

  /** The names of all functions. */
  static List<String> names() {
    return ALL.keySet().stream().filter(name -> !name.equals(Compiler.RETURNING)).toList();
  }

  static Step call(Compiler compiler, Syntax.Call call, List<Step> arguments) {
    List<Function> candidates = ALL.get(call.function());
    if (candidates == null) {
      throw new ExpressionFault(
          call.at(),
          "there is no function %s; there are coalesce, greatest, least, nullif, %s"
              .formatted(call.function(), String.join(", ", names())));
    }
    Function best = null;
    int bestCost = Integer.MAX_VALUE;
    for (Function function : candidates) {
      int cost = cost(function, arguments);
      if (cost < bestCost) {
        best = function;
        bestCost = cost;
      }
    }
    if (best == null) {
      throw new ExpressionFault(call.at(), mismatch(call.function(), candidates, arguments));
    }
    Step[] steps = new Step[arguments.size()];
    for (int i = 0; i < steps.length; i++) {
      TypeKind wanted = parameter(best, i);
      steps[i] =
          wanted == null
              ? compiler.as(
                  arguments.get(i),
                  arguments.get(i).type() == null ? TypeKind.TEXT : arguments.get(i).type(),
                  call.arguments().get(i))
              : compiler.as(arguments.get(i), wanted, call.arguments().get(i));
    }
    Checked checked = CHECKS.get(call.function());
    if (checked != null
        && call.arguments().get(checked.argument()) instanceof Syntax.Text literal) {
      try {
        checked.check().look(literal.text(), steps);
      } catch (NoResult e) {
        throw new ExpressionFault(literal.at(), e.getMessage());
      }
    }
    return best.maker().make(steps);
  }

  private static TypeKind parameter(Function function, int i) {
    return function.parameters().get(Math.min(i, function.parameters().size() - 1));
  }

  /** How far the arguments are from the parameters; the largest number if they do not fit. */
  private static int cost(Function function, List<Step> arguments) {
    int count = arguments.size();
    if (count < function.least() || count > function.parameters().size() && !function.repeat()) {
      return Integer.MAX_VALUE;
    }
    int cost = 0;
    for (int i = 0; i < count; i++) {
      TypeKind wanted = parameter(function, i);
      TypeKind given = arguments.get(i).type();
      if (wanted == null || given == wanted) {
        continue;
      }
      if (given == null) {
        cost += wanted == TypeKind.TEXT ? 0 : wanted == TypeKind.DOUBLE ? 1 : 2;
      } else if (given.isNumber() && wanted.isNumber() && widens(given, wanted)) {
        // The preferred type of numbers is double precision.
        cost += wanted == TypeKind.DOUBLE && !Kinds.isFloat(given) ? 1 : 2;
      } else if (Kinds.isDate(given) && Kinds.isDate(wanted) && given.compareTo(wanted) < 0) {
        cost += wanted == TypeKind.TIMESTAMP_TZ ? 1 : 2;
      } else {
        return Integer.MAX_VALUE;
      }
    }
    return cost;
  }

  private static boolean widens(TypeKind given, TypeKind wanted) {
    return Kinds.arithmetic(given, wanted) == wanted;
  }

  private static String mismatch(String name, List<Function> candidates, List<Step> arguments) {
    String given =
        arguments.stream()
            .map(a -> a.type() == null ? "'…'" : a.type().sql())
            .collect(Collectors.joining(", "));
    String takes =
        candidates.stream()
            .map(
                f ->
                    f.parameters().stream()
                        .map(p -> p == null ? "any" : p.sql())
                        .collect(Collectors.joining(", ", name + "(", ")")))
            .collect(Collectors.joining(" or "));
    return "%s(%s) does not exist; there is %s".formatted(name, given, takes);
  }
}
