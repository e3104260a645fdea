package dev.dusky.core.merge;

import java.util.Locale;

/** What happens to a target row whose key has gone from the source. */
public enum GoneKeys {
  /** It stays as it is. */
  KEEP,
  /** A truth column says so. */
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
