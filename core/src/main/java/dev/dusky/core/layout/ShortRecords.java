package dev.dusky.core.layout;

/** What happens to a record with fewer fields than the feed needs. */
public enum ShortRecords {
  /** It is a reject. */
  REJECT,
  /** The missing fields are null. */
  FILL
}
