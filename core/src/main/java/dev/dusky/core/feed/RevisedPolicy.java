package dev.dusky.core.feed;

import java.util.Locale;

/** How a feed handles a file whose content changed after it was posted. */
public enum RevisedPolicy {
  /** It is marked and not read, so that a person looks at it. */
  HALT,
  /** Its posted rows are replaced by the new content in one transaction. */
  REPLACE,
  /** The new content is posted besides the old. */
  APPEND,
  /** The posted rows stay; the change is noted once. */
  IGNORE;

  /** The word in configurations. */
  public String label() {
    return name().toLowerCase(Locale.ROOT);
  }
}
