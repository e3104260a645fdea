package dev.dusky.core.expression;

import dev.dusky.core.type.TypeKind;
import java.math.BigDecimal;

/**
 * A compiled expression that can be asked row by row. Not safe for use by several threads. What a
 * row gave is valid until the next one is asked. Hot.
 */
public final class Evaluator {

  private final Formula formula;
  private final Step step;
  private final TypeKind type;

  private Evaluator(Formula formula, Step step) {
    this.formula = formula;
    this.step = step;
    this.type = step.type();
  }

  /**
   * Compiles an expression over columns.
   *
   * @throws ExpressionFault that points at the character at fault
   */
  public static Evaluator of(Formula formula, Columns columns) {
    return new Evaluator(formula, new Compiler(columns).compile(formula.syntax()));
  }

  /** Compiles a condition, whose result must be true or false. */
  public static Evaluator condition(Formula formula, Columns columns) {
    return new Evaluator(formula, new Compiler(columns).condition(formula.syntax()));
  }

  /** The expression as written. */
  public Formula formula() {
    return formula;
  }

  /** The type of the results; texts of any kind are TEXT. */
  public TypeKind type() {
    return type;
  }

  /**
   * Computes the result for a row.
   *
   * @return false for null
   * @throws NoResult if the row has none, such as after a division by zero
   */
  public boolean eval(int row) {
    return step.eval(row);
  }

  /** The result of integers, dates and times, and of booleans as 0 or 1; a UUID's first half. */
  public long whole() {
    return step.whole;
  }

  /** The second half of a UUID. */
  public long low() {
    return step.low;
  }

  /** The result of floating-point types. */
  public double real() {
    return step.real;
  }

  /** The result of decimals. */
  public BigDecimal decimal() {
    return step.decimal();
  }

  /** The unscaled value of a decimal result if it fits a long, see {@link #isWide}. */
  public long unscaled() {
    return step.unscaled;
  }

  /** The scale of a decimal result. */
  public int scale() {
    return step.scale;
  }

  /** Whether a decimal result may not fit a long. */
  public boolean isWide() {
    return step.wide != null;
  }

  /** The bytes of a text, JSON or binary result. */
  public byte[] bytes() {
    return step.b;
  }

  /** Where those start. */
  public int from() {
    return step.from;
  }

  /** Where those end, exclusive. */
  public int to() {
    return step.to;
  }

  /** The result as text. */
  public String text() {
    return TextForms.of(type, step);
  }
}
