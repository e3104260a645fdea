package dev.dusky.core.layout;

/** How JSON values follow each other in a file. */
public enum JsonForm {
  /** Inferred from the first bytes: an array, values one a line, or else values in a row. */
  AUTO,
  /** One value a line (RFC 7464's relative without its mark); a broken line costs one record. */
  LINES,
  /** Whole documents, one or several in a row, in which records are at a path. */
  DOCUMENT
}
