package dev.dusky.core.layout;

/** What ends a record. */
public enum LineEnd {
  /** Told from the first line end of the file: LF (with or without CRs before it) or CR alone. */
  AUTO,
  /** LF, with or without CRs before it. */
  LF,
  /** CR alone. */
  CR
}
