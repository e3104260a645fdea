package dev.dusky.core.layout;

/** How a record with more fields than expected is read. */
public enum LongRecords {
  /** It is a reject. */
  REJECT,
  /** The extra fields are skipped. */
  IGNORE
}
