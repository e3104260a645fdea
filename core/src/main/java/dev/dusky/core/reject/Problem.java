package dev.dusky.core.reject;

/**
 * One thing wrong with a record.
 *
 * @param code the reason
 * @param column the feed's column, or an empty string when the record as a whole is at fault
 * @param value the raw value as text, shortened to {@link #VALUE_LIMIT} characters
 * @param message what is wrong, in one sentence without a full stop
 */
public record Problem(RejectCode code, String column, String value, String message) {

  /** The most characters of a raw value that a problem carries; the raw record has all of it. */
  public static final int VALUE_LIMIT = 400;
}
