package dev.dusky.core.feed;

import java.util.Locale;

/**
 * How a feed handles files whose columns or types differ from its declaration.
 *
 * @param fields what it does about fields that it does not know
 * @param widen whether types of columns may become wider
 * @param most how many columns a file may add at once
 */
public record DriftPolicy(Fields fields, boolean widen, int most) {

  /** The column that {@link Fields#CAPTURE} keeps things in. */
  public static final String LEFTOVERS = "leftovers";

  /** The default for {@link #most}. */
  public static final int DEFAULT_MOST = 50;

  /** How a feed handles unknown fields. */
  public enum Fields {
    /** They become columns of the landing table. */
    EXTEND,
    /** They are kept as JSON in the row, and so are values that do not fit their column. */
    CAPTURE,
    /** The file is refused. */
    REFUSE,
    /** They are left out and counted. */
    IGNORE;

    /** The word in configurations. */
    public String label() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  /** The policy with that way and nothing special about it. */
  public static DriftPolicy of(Fields fields) {
    return new DriftPolicy(fields, false, DEFAULT_MOST);
  }

  /** Whether things are kept in the leftovers. */
  public boolean captures() {
    return fields == Fields.CAPTURE;
  }

  /** Whether the table grows. */
  public boolean grows() {
    return fields == Fields.EXTEND;
  }
}
