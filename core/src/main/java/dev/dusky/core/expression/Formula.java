package dev.dusky.core.expression;

import java.util.ArrayList;
import java.util.List;

/**
 * An expression of the configuration, read but not yet typed.
 *
 * @param text as it was written
 * @param syntax its structure
 */
public record Formula(String text, Syntax syntax) {

  /**
   * Reads an expression.
   *
   * @throws ExpressionFault that points at the character at fault
   */
  public static Formula of(String text) {
    return new Formula(text, Parser.parse(text));
  }

  /** The names of columns and fields in it, each once, in order. */
  public List<String> names() {
    List<String> names = new ArrayList<>();
    collect(syntax, names);
    return names.stream().distinct().toList();
  }

  private static void collect(Syntax syntax, List<String> names) {
    if (syntax instanceof Syntax.Name name) {
      names.add(name.name());
    } else if (syntax instanceof Syntax.Prefix prefix) {
      collect(prefix.operand(), names);
    } else if (syntax instanceof Syntax.Infix infix) {
      collect(infix.left(), names);
      collect(infix.right(), names);
    } else if (syntax instanceof Syntax.Call call) {
      call.arguments().forEach(argument -> collect(argument, names));
    } else if (syntax instanceof Syntax.Cast cast) {
      collect(cast.operand(), names);
    } else if (syntax instanceof Syntax.Case cases) {
      if (cases.operand() != null) {
        collect(cases.operand(), names);
      }
      for (Syntax.When when : cases.whens()) {
        collect(when.condition(), names);
        collect(when.result(), names);
      }
      if (cases.otherwise() != null) {
        collect(cases.otherwise(), names);
      }
    } else if (syntax instanceof Syntax.Is is) {
      collect(is.operand(), names);
    } else if (syntax instanceof Syntax.In in) {
      collect(in.operand(), names);
      in.list().forEach(item -> collect(item, names));
    } else if (syntax instanceof Syntax.Between between) {
      collect(between.operand(), names);
      collect(between.low(), names);
      collect(between.high(), names);
    } else if (syntax instanceof Syntax.Like like) {
      collect(like.operand(), names);
      collect(like.pattern(), names);
      if (like.escape() != null) {
        collect(like.escape(), names);
      }
    }
  }

  /** The expression as written. */
  @Override
  public String toString() {
    return text;
  }
}
