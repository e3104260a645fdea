package dev.dusky.warehouses.merge;

/**
 * One statement of a merge.
 *
 * @param effect what its count of rows means
 * @param comment what it is for, for readers of the script
 * @param sql the statement, without a semicolon
 * @param into the table whose rows it adds, changes or takes out, or makes
 */
public record MergeStep(Effect effect, String comment, String sql, String into) {

  /** What a statement does for the merge. */
  public enum Effect {
    /** Prepares or sorts out; its count is of no interest. */
    PREPARE,
    /** Sorts rows out that share their rank; of no use where none do. */
    TIES,
    /** Makes a scratch table. */
    SCRATCH,
    /** Puts a dimension's placeholder rows in. */
    PLACEHOLDER,
    /** Takes placeholder rows out again that nothing refers to. */
    WITHDRAW,
    /** Adds rows to the target. */
    ADD,
    /** Changes rows of the target. */
    CHANGE,
    /** Takes rows out of the target. */
    REMOVE
  }

  /** A statement that prepares. */
  static MergeStep prepare(String comment, String sql) {
    return new MergeStep(Effect.PREPARE, comment, sql, "");
  }

  /** A statement for rows that share their rank. */
  static MergeStep ties(String comment, String sql) {
    return new MergeStep(Effect.TIES, comment, sql, "");
  }

  /** A statement that makes a scratch table. */
  static MergeStep make(String name, String comment, String sql) {
    return new MergeStep(Effect.SCRATCH, comment, sql, name);
  }

  /** The statement as it is printed. */
  @Override
  public String toString() {
    return "-- " + comment.replace("\n", "\n-- ") + "\n" + sql + ";\n";
  }
}
