package dev.dusky.core.ledger;

import java.util.Locale;

/** The life of a load: it runs, and then it has ended in one way for good. */
public enum LoadState {
  /** Its process runs. */
  RUNNING,
  /** It went through all its files. */
  DONE,
  /** Something other than a file stopped it. */
  FAILED,
  /** Its process was stopped or died. */
  INTERRUPTED;

  /** Whether this state may follow {@code other}. */
  public boolean mayFollow(LoadState other) {
    return other == RUNNING && this != RUNNING;
  }

  /** The state as shown and stored. */
  public String label() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** The state with this label. */
  public static LoadState of(String label) {
    return valueOf(label.toUpperCase(Locale.ROOT));
  }
}
