package dev.dusky.core.layout;

/** What happens to a record with more fields than expected. */
public enum LongRecords {
  /** It is a reject. */
  REJECT,
  /** The extra fields are passed over. */
  IGNORE
}
