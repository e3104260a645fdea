package dev.dusky.core.expression;

/** An expression has no result for a row, such as a division by zero. Cheap to throw. */
public final class NoResult extends RuntimeException {

  private static final long serialVersionUID = 1L;

  NoResult(String message) {
    super(message, null, false, false);
  }
}
