package dev.dusky.core.reject;

import java.util.Locale;

/** The life of a reject: open until a person settles it, and then settled for good. */
public enum RejectState {
  /** It is not settled yet. */
  OPEN,
  /** Its repaired record was loaded. */
  MENDED,
  /** Someone decided to do without it. */
  WAIVED;

  /** Whether this state may follow {@code other}. */
  public boolean mayFollow(RejectState other) {
    return other == OPEN && this != OPEN;
  }

  /** The state as shown and stored. */
  public String label() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** The state with this label. */
  public static RejectState of(String label) {
    return valueOf(label.toUpperCase(Locale.ROOT));
  }
}
