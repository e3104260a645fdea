package dev.dusky.core.layout;

/** The line end of a record. */
public enum LineEnd {
  /**
   * Inferred from the first line end of the file: LF (with or without CRs before it) or CR alone.
   */
  AUTO,
  /** LF, with or without CRs before it. */
  LF,
  /** CR alone. */
  CR
}
