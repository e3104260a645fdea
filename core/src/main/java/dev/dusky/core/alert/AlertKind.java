package dev.dusky.core.alert;

import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;

/** The kinds of alerts. There is one alert of a kind for a feed or merge at a time. */
public enum AlertKind {
  /** Files were refused, or changed after they were posted. */
  FILE_REFUSED,
  /** More rejects are open than the limit. */
  REJECTS,
  /** A reject has been open for longer than the limit. */
  OLD_REJECTS,
  /** Loading fails. */
  FAILING,
  /** Files are due and did not come. */
  MISSING_FILES,
  /** A file of the last day has an unusual volume. */
  VOLUME,
  /** Files had other fields than their feed, within the last day. */
  DRIFT,
  /** The ledger and the tables do not agree, by the last balance. */
  BOOKS,
  /** The last run of a merge failed. */
  MERGE_STOPPED;

  /** The kind as shown, stored and configured. */
  public String label() {
    return name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  /** The kind with this label. */
  public static Optional<AlertKind> of(String label) {
    return Arrays.stream(values()).filter(kind -> kind.label().equals(label)).findFirst();
  }
}
