package dev.dusky.core.expression;

import dev.dusky.core.type.SqlType;
import java.util.List;

/**
 * An expression as it was written; {@code at} is the place of its character in the text, from 0.
 */
public sealed interface Syntax {

  /** Where it begins, or where its operator is. */
  int at();

  /** A text in quotes, whose type its surroundings decide. */
  record Text(int at, String text) implements Syntax {}

  /** A number. */
  record Number(int at, String digits) implements Syntax {}

  /** true, false or null. */
  record Word(int at, String word) implements Syntax {}

  /** A span of time; only to be added to or taken from dates and times. */
  record Interval(int at, int months, int days, long micros) implements Syntax {}

  /** A column or field. */
  record Name(int at, String name) implements Syntax {}

  /** An operator before its operand: - + not. */
  record Prefix(int at, String operator, Syntax operand) implements Syntax {}

  /** An operator between its operands. */
  record Infix(int at, String operator, Syntax left, Syntax right) implements Syntax {}

  /** A call of a function; some have words among their arguments, which are given by name. */
  record Call(int at, String function, List<Syntax> arguments) implements Syntax {}

  /** A cast to a type. */
  record Cast(int at, Syntax operand, SqlType type) implements Syntax {}

  /** case; the operand is null for the searched form, otherwise null for no else. */
  record Case(int at, Syntax operand, List<When> whens, Syntax otherwise) implements Syntax {}

  /** One branch of a case. */
  record When(Syntax condition, Syntax result) {}

  /** is null, is true, is false, is unknown; negated with not. */
  record Is(int at, Syntax operand, String what, boolean negated) implements Syntax {}

  /** in a list. */
  record In(int at, Syntax operand, List<Syntax> list, boolean negated) implements Syntax {}

  /** between two bounds. */
  record Between(int at, Syntax operand, Syntax low, Syntax high, boolean symmetric)
      implements Syntax {}

  /** like a pattern; the escape is null for the backslash. */
  record Like(int at, Syntax operand, Syntax pattern, Syntax escape) implements Syntax {}
}
