package dev.dusky.core.repeat;

import java.util.List;
import java.util.Locale;

/**
 * How a feed handles repeated rows.
 *
 * @param remove whether they are left out, or only counted
 * @param key the columns by which rows are the same; all that come from the record if there are
 *     none
 * @param scope among which rows
 * @param keep which of them stays
 * @param by for {@link Keep#LATEST}, the columns that say which is the latest
 * @param memory how many megabytes the look-up may take before it goes to disk; 0 not to count
 */
public record RepeatPolicy(
    boolean remove, List<String> key, Scope scope, Keep keep, List<String> by, int memory) {

  /** The default for {@link #memory}. */
  public static final int DEFAULT_MEMORY = 256;

  /** Everything is loaded; exact repeats within a file are counted, so that people notice. */
  public static final RepeatPolicy COUNTED =
      new RepeatPolicy(false, List.of(), Scope.FILE, Keep.FIRST, List.of(), DEFAULT_MEMORY);

  public RepeatPolicy {
    key = List.copyOf(key);
    by = List.copyOf(by);
  }

  /** Whether rows need no hash, since repeats are not looked for. */
  public boolean unseen() {
    return !remove && memory == 0;
  }

  /** Among which rows a row may be a repeat. */
  public enum Scope {
    /** Those of its file. */
    FILE,
    /** Those of all files of its load. */
    LOAD,
    /** Those of its load and those that are in the landing table. */
    TABLE;

    /** The word in configurations. */
    public String label() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  /** Which of several rows stays. */
  public enum Keep {
    /** The one that came first. */
    FIRST,
    /** The one that came last. */
    LAST,
    /** The one whose columns are the greatest; of equal ones the first. */
    LATEST;

    /** The word in configurations. */
    public String label() {
      return name().toLowerCase(Locale.ROOT);
    }
  }
}
