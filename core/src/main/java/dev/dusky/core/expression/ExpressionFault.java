package dev.dusky.core.expression;

/** An error in a declared expression. */
public final class ExpressionFault extends RuntimeException {

  private static final long serialVersionUID = 1L;

  private final int at;

  /**
   * A fault.
   *
   * @param at the place of the character at fault, from 0
   * @param message what is wrong, without a full stop
   */
  public ExpressionFault(int at, String message) {
    super(message, null, false, false);
    this.at = at;
  }

  /** The place of the character at fault in the expression's text, from 0. */
  public int at() {
    return at;
  }
}
