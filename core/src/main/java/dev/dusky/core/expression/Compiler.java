package dev.dusky.core.expression;

import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.util.ArrayList;
import java.util.List;

/**
 * Gives every part of an expression its type and makes the steps that compute it. A text in quotes,
 * and null, have the type null until their context gives them one.
 */
final class Compiler {

  /** json_value with a declared type: a value not of that type is null. */
  static final String RETURNING = "json_value returning";

  private final Columns columns;

  Compiler(Columns columns) {
    this.columns = columns;
  }

  /** Compiles an expression; a result of type null becomes text. */
  Step compile(Syntax syntax) {
    Step step = step(syntax);
    return step.type() == null ? as(step, TypeKind.TEXT, syntax) : step;
  }

  /** Compiles a condition. */
  Step condition(Syntax syntax) {
    Step step = step(syntax);
    if (step.type() != null && step.type() != TypeKind.BOOLEAN) {
      throw new ExpressionFault(
          syntax.at(), "a condition must be true or false, this is " + name(step.type()));
    }
    return as(step, TypeKind.BOOLEAN, syntax);
  }

  static String name(TypeKind kind) {
    return kind == null ? "a text in quotes" : "of type " + kind.sql();
  }

  private Step step(Syntax syntax) {
    if (syntax instanceof Syntax.Text text) {
      Step step = new Step(null, (s, row) -> true);
      step.setText(text.text());
      return step;
    }
    if (syntax instanceof Syntax.Number number) {
      return Literals.number(number.at(), number.digits());
    }
    if (syntax instanceof Syntax.Word word) {
      return word.word().equals("null") ? Literals.nothing(null) : Literals.truth(word.word());
    }
    if (syntax instanceof Syntax.Name name) {
      return column(name);
    }
    if (syntax instanceof Syntax.Prefix prefix) {
      return prefix(prefix);
    }
    if (syntax instanceof Syntax.Infix infix) {
      return infix(infix);
    }
    if (syntax instanceof Syntax.Call call) {
      return call(call);
    }
    if (syntax instanceof Syntax.Cast cast) {
      return cast(cast);
    }
    if (syntax instanceof Syntax.Case cases) {
      return cases(cases);
    }
    if (syntax instanceof Syntax.Is is) {
      return is(is);
    }
    if (syntax instanceof Syntax.In in) {
      return in(in);
    }
    if (syntax instanceof Syntax.Between between) {
      return between(between);
    }
    if (syntax instanceof Syntax.Like like) {
      return like(like);
    }
    throw new ExpressionFault(
        syntax.at(), "an interval can only be added to, or taken from, a date or time");
  }

  private Step column(Syntax.Name name) {
    int column = columns.find(name.name());
    if (column < 0) {
      throw new ExpressionFault(
          name.at(),
          "there is no column '%s'; known are %s"
              .formatted(name.name(), String.join(", ", columns.names())));
    }
    return columns.step(column);
  }

  private Step prefix(Syntax.Prefix prefix) {
    if (prefix.operator().equals("not")) {
      Step condition = condition(prefix.operand());
      return new Step(
          TypeKind.BOOLEAN, (s, row) -> condition.eval(row) && s.set(condition.whole == 0));
    }
    if (prefix.operator().equals("-") && prefix.operand() instanceof Syntax.Number number) {
      return Literals.number(number.at(), "-" + number.digits());
    }
    Step operand = step(prefix.operand());
    if (operand.type() == null) {
      operand = as(operand, TypeKind.DOUBLE, prefix.operand());
    }
    if (!operand.type().isNumber()) {
      throw new ExpressionFault(
          prefix.at(),
          "%s takes a number, not a value %s".formatted(prefix.operator(), name(operand.type())));
    }
    return prefix.operator().equals("+") ? operand : Arithmetic.negate(operand);
  }

  private Step infix(Syntax.Infix infix) {
    String operator = infix.operator();
    switch (operator) {
      case "and", "or":
        Step left = condition(infix.left());
        Step right = condition(infix.right());
        return operator.equals("and") ? Logic.and(left, right) : Logic.or(left, right);
      case "||":
        return concatenation(infix);
      case "=", "<>", "<", "<=", ">", ">=":
        Step[] both = comparable(infix.at(), operator, infix.left(), infix.right());
        return Comparison.of(operator, both[0], both[1]);
      case "is distinct", "is same":
        Step[] pair = comparable(infix.at(), "is distinct from", infix.left(), infix.right());
        return Comparison.distinct(pair[0], pair[1], operator.equals("is distinct"));
      default:
        return arithmetic(infix);
    }
  }

  private Step concatenation(Syntax.Infix infix) {
    Step left = step(infix.left());
    Step right = step(infix.right());
    boolean anyText =
        left.type() == null
            || right.type() == null
            || left.type() == TypeKind.TEXT
            || right.type() == TypeKind.TEXT;
    if (!anyText) {
      throw new ExpressionFault(infix.at(), "|| needs a text on one side at least");
    }
    return Concatenation.of(
        explicit(left, TypeKind.TEXT, infix.left()), explicit(right, TypeKind.TEXT, infix.right()));
  }

  private Step arithmetic(Syntax.Infix infix) {
    if (infix.right() instanceof Syntax.Interval span) {
      Step left = compile(infix.left());
      return DateFunctions.shift(infix.at(), left, span, infix.operator());
    }
    if (infix.left() instanceof Syntax.Interval span && infix.operator().equals("+")) {
      return DateFunctions.shift(infix.at(), compile(infix.right()), span, "+");
    }
    Step left = step(infix.left());
    Step right = step(infix.right());
    if (left.type() == null && right.type() == null) {
      throw new ExpressionFault(
          infix.at(), infix.operator() + " needs a number on one side at least");
    }
    if (left.type() == TypeKind.DATE || right.type() == TypeKind.DATE) {
      return DateFunctions.arithmetic(
          infix.at(),
          infix.operator(),
          left.type() == null ? as(left, TypeKind.DATE, infix.left()) : left,
          right.type() == null ? as(right, TypeKind.DATE, infix.right()) : right);
    }
    left = left.type() == null ? as(left, right.type(), infix.left()) : left;
    right = right.type() == null ? as(right, left.type(), infix.right()) : right;
    if (!left.type().isNumber() || !right.type().isNumber()) {
      TypeKind wrong = left.type().isNumber() ? right.type() : left.type();
      throw new ExpressionFault(
          infix.at(), "%s takes numbers, not a value %s".formatted(infix.operator(), name(wrong)));
    }
    TypeKind kind = Kinds.arithmetic(left.type(), right.type());
    if (infix.operator().equals("%") && Kinds.isFloat(kind)) {
      throw new ExpressionFault(infix.at(), "% does not take floating-point numbers");
    }
    return Arithmetic.of(infix.operator(), kind, Casts.to(left, kind), Casts.to(right, kind));
  }

  /** Two operands brought to one type in which they can be compared. */
  private Step[] comparable(int at, String operator, Syntax left, Syntax right) {
    Step a = step(left);
    Step b = step(right);
    TypeKind kind;
    if (a.type() == null || b.type() == null) {
      kind = a.type() != null ? a.type() : b.type() != null ? b.type() : TypeKind.TEXT;
    } else if (a.type().isNumber() && b.type().isNumber()) {
      kind = Kinds.arithmetic(a.type(), b.type());
    } else {
      kind = Kinds.union(a.type(), b.type());
    }
    if (kind == null) {
      throw new ExpressionFault(
          at,
          "%s cannot compare a value %s with one %s; cast one of them"
              .formatted(operator, name(a.type()), name(b.type())));
    }
    if (kind == TypeKind.JSON) {
      throw new ExpressionFault(at, "values of type json have no order and no equality");
    }
    return new Step[] {as(a, kind, left), as(b, kind, right)};
  }

  private Step call(Syntax.Call call) {
    return switch (call.function()) {
      case "coalesce", "greatest", "least" -> {
        List<Step> parts = unified(call, call.arguments());
        yield Logic.choose(call.function(), parts);
      }
      case "nullif" -> {
        need(call, 2);
        Step[] both =
            comparable(call.at(), "nullif", call.arguments().get(0), call.arguments().get(1));
        Step first = both[0];
        Step equal = Comparison.of("=", both[0], both[1]);
        yield new Step(
            first.type(), (s, row) -> !equal.holds(row) && first.eval(row) && s.take(first));
      }
      default -> {
        List<Step> arguments = call.arguments().stream().map(this::step).toList();
        yield Functions.call(this, call, arguments);
      }
    };
  }

  static void need(Syntax.Call call, int count) {
    if (call.arguments().size() != count) {
      throw new ExpressionFault(
          call.at(),
          "%s takes %d arguments, not %d"
              .formatted(call.function(), count, call.arguments().size()));
    }
  }

  /** Operands brought to the one type that holds them all. */
  private List<Step> unified(Syntax at, List<Syntax> operands) {
    if (operands.isEmpty()) {
      throw new ExpressionFault(at.at(), "an argument is missing");
    }
    List<Step> steps = operands.stream().map(this::step).toList();
    TypeKind kind = null;
    for (int i = 0; i < steps.size(); i++) {
      TypeKind own = steps.get(i).type();
      if (own != null && kind != null && Kinds.union(kind, own) == null) {
        throw new ExpressionFault(
            operands.get(i).at(),
            "this is %s, but what precedes it is %s".formatted(name(own), name(kind)));
      }
      kind = own == null ? kind : kind == null ? own : Kinds.union(kind, own);
    }
    TypeKind common = kind == null ? TypeKind.TEXT : kind;
    List<Step> result = new ArrayList<>();
    for (int i = 0; i < steps.size(); i++) {
      result.add(as(steps.get(i), common, operands.get(i)));
    }
    return result;
  }

  private Step cast(Syntax.Cast cast) {
    Step operand = step(cast.operand());
    SqlType type = cast.type();
    TypeKind kind = type.kind().isText() ? TypeKind.TEXT : type.kind();
    Step result = explicit(operand, kind, cast.operand());
    Step sized = Casts.sized(result, type);
    boolean lenient =
        cast.operand() instanceof Syntax.Call call && call.function().equals(RETURNING);
    return lenient ? Logic.nullWithoutResult(sized) : sized;
  }

  private Step explicit(Step step, TypeKind kind, Syntax syntax) {
    if (step.type() == null) {
      return as(step, kind, syntax);
    }
    if (!Casts.possible(step.type(), kind)) {
      throw new ExpressionFault(
          syntax.at(), "a value %s cannot be cast to %s".formatted(name(step.type()), kind.sql()));
    }
    return Casts.to(step, kind);
  }

  /** Gives a step a type: that of a text in quotes is read now, others widen without loss. */
  Step as(Step step, TypeKind kind, Syntax syntax) {
    if (step.type() == kind) {
      return step;
    }
    if (step.type() == null) {
      if (!step.eval(0)) {
        return Literals.nothing(kind);
      }
      Step text = new Step(TypeKind.TEXT, (s, row) -> true);
      text.take(step);
      return Literals.fixed(Casts.to(text, kind), syntax.at());
    }
    if (Kinds.union(step.type(), kind) != kind && Kinds.arithmetic(step.type(), kind) != kind) {
      throw new ExpressionFault(
          syntax.at(),
          "this is %s where a value of type %s is needed; cast it"
              .formatted(name(step.type()), kind.sql()));
    }
    return Casts.to(step, kind);
  }

  private Step cases(Syntax.Case cases) {
    List<Step> conditions = new ArrayList<>();
    List<Syntax> results = new ArrayList<>();
    for (Syntax.When when : cases.whens()) {
      if (cases.operand() == null) {
        conditions.add(condition(when.condition()));
      } else {
        Step[] both = comparable(when.condition().at(), "=", cases.operand(), when.condition());
        conditions.add(Comparison.of("=", both[0], both[1]));
      }
      results.add(when.result());
    }
    if (cases.otherwise() != null) {
      results.add(cases.otherwise());
    }
    return Logic.cases(conditions, unified(cases, results));
  }

  private Step is(Syntax.Is is) {
    boolean negated = is.negated();
    if (is.what().equals("null") || is.what().equals("unknown")) {
      Step operand = is.what().equals("null") ? compile(is.operand()) : condition(is.operand());
      return new Step(TypeKind.BOOLEAN, (s, row) -> s.set(operand.eval(row) == negated));
    }
    Step operand = condition(is.operand());
    long wanted = is.what().equals("true") ? 1 : 0;
    return new Step(
        TypeKind.BOOLEAN,
        (s, row) -> s.set((operand.eval(row) && operand.whole == wanted) != negated));
  }

  private Step in(Syntax.In in) {
    List<Syntax> all = new ArrayList<>(List.of(in.operand()));
    all.addAll(in.list());
    List<Step> steps = unified(in, all);
    return Comparison.in(steps.get(0), steps.subList(1, steps.size()), in.negated());
  }

  private Step between(Syntax.Between between) {
    Step low = bound(between, ">=", between.low());
    Step high = bound(between, "<=", between.high());
    Step inside = Logic.and(low, high);
    if (!between.symmetric()) {
      return inside;
    }
    return Logic.or(
        inside,
        Logic.and(bound(between, ">=", between.high()), bound(between, "<=", between.low())));
  }

  private Step bound(Syntax.Between between, String operator, Syntax bound) {
    Step[] both = comparable(bound.at(), "between", between.operand(), bound);
    return Comparison.of(operator, both[0], both[1]);
  }

  private Step like(Syntax.Like like) {
    Step text = text(like.operand(), "like");
    Step pattern = text(like.pattern(), "like");
    Step escape = like.escape() == null ? null : text(like.escape(), "escape");
    return LikePattern.step(text, pattern, escape);
  }

  private Step text(Syntax syntax, String what) {
    Step step = compile(syntax);
    if (step.type() != TypeKind.TEXT) {
      throw new ExpressionFault(
          syntax.at(), "%s takes texts, this is %s".formatted(what, name(step.type())));
    }
    return step;
  }
}
