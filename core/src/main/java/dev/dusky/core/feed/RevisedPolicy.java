package dev.dusky.core.feed;

import java.util.Locale;

/** What a feed does about a file whose content changed after it was posted under that name. */
public enum RevisedPolicy {
  /** It is marked and not read, so that a person looks at it. */
  HALT,
  /** What was posted of it is taken out and the new content goes in, in one transaction. */
  REPLACE,
  /** The new content is posted besides the old. */
  APPEND,
  /** What was posted stays; the change is noted once. */
  IGNORE;

  /** The word in configurations. */
  public String label() {
    return name().toLowerCase(Locale.ROOT);
  }
}
