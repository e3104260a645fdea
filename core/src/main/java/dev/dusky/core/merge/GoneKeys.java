package dev.dusky.core.merge;

import java.util.Locale;

/** How a target row is handled whose key is gone from the source. */
public enum GoneKeys {
  /** It stays as it is. */
  KEEP,
  /** A boolean column marks them. */
  MARK,
  /** A time column says since when; with a history, its open version ends. */
  END,
  /** It is deleted. */
  DELETE;

  /** The word in configurations. */
  public String label() {
    return name().toLowerCase(Locale.ROOT);
  }
}
