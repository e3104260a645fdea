package dev.dusky.core.layout;

/** How a record with fewer fields than needed is read. */
public enum ShortRecords {
  /** It is a reject. */
  REJECT,
  /** The missing fields are null. */
  FILL
}
