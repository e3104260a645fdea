package dev.dusky.warehouses.source;

/** A value that the type of its column does not hold. */
final class InexactValue extends Exception {

  private static final long serialVersionUID = 1;

  private final int column;

  /**
   * A value.
   *
   * @param column its column, from 0
   * @param value what it is
   */
  InexactValue(int column, String value) {
    super(value);
    this.column = column;
  }

  int column() {
    return column;
  }
}
