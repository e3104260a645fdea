package dev.dusky.core.ledger;

import java.util.EnumSet;
import java.util.Locale;
import java.util.Set;

/** The life of a file in the ledger. The legal transitions stand here and nowhere else. */
public enum FileState {
  /** Staged and not processed yet, or released again after an interruption. */
  WAITING,
  /** Its rows and its tally are in the warehouse. */
  POSTED,
  /** It could not be loaded as it is; nothing of it is in the table. */
  REFUSED,
  /** Its content equals that of a posted file. */
  TWIN,
  /** Its content changed since it was posted under that name. */
  REVISED,
  /** It was posted and then undone; it waits to be loaded again. */
  REVERSED,
  /** It was posted, and a later load has replaced its rows. */
  REPLACED,
  /** It was posted and is no longer in the depot. */
  MISSING;

  /** The states that may come next. */
  public Set<FileState> next() {
    return switch (this) {
      case WAITING -> EnumSet.of(POSTED, REFUSED, TWIN, REVISED);
      case REFUSED -> EnumSet.of(POSTED, REFUSED, TWIN, REVISED);
      case REVISED -> EnumSet.of(POSTED, REFUSED, TWIN, REVISED);
      case POSTED -> EnumSet.of(REVERSED, REPLACED, MISSING);
      case REPLACED -> EnumSet.of(POSTED, TWIN);
      case MISSING -> EnumSet.of(POSTED, REVERSED);
      case REVERSED -> EnumSet.of(POSTED, REFUSED, TWIN);
      case TWIN -> EnumSet.of(POSTED, REPLACED);
    };
  }

  /**
   * Checks that a state may follow.
   *
   * @throws IllegalStateException if it may not
   */
  public void checkNext(FileState other) {
    if (!next().contains(other)) {
      throw new IllegalStateException(
          "a file that is " + label() + " cannot become " + other.label());
    }
  }

  /** Whether the file is settled and is not read again. */
  public boolean settled() {
    return this == POSTED || this == TWIN || this == REPLACED || this == MISSING;
  }

  /** The state as shown and stored. */
  public String label() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** The state with this label. */
  public static FileState of(String label) {
    return valueOf(label.toUpperCase(Locale.ROOT));
  }
}
