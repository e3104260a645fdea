package dev.dusky.core.layout;

/** What ends a record. */
public enum LineEnd {
  /** Told from the first line end of the file: LF (with or without a CR before it) or CR alone. */
  AUTO,
  /** LF, with or without a CR before it. */
  LF,
  /** CR alone. */
  CR
}
