package dev.dusky.core.feed;

import java.util.Locale;

/** How a feed handles a file whose content is posted already under another name. */
public enum TwinPolicy {
  /** It is left out, with a line that names the original. */
  SKIP,
  /** It is loaded like any other. */
  LOAD,
  /** It is refused, so that a person looks at it. */
  HALT;

  /** The word in configurations. */
  public String label() {
    return name().toLowerCase(Locale.ROOT);
  }
}
