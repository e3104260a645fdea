package dev.dusky.core.layout;

/** How a record with an empty or missing array of rows is read. */
public enum EmptyRows {
  /** It gives no row. */
  NONE,
  /** It gives one row whose fields from the array are null. */
  ONE
}
