package dev.dusky.core.layout;

/** What becomes of a record whose array of rows is empty or missing. */
public enum EmptyRows {
  /** It gives no row. */
  NONE,
  /** It gives one row whose fields from the array are null. */
  ONE
}
