package dev.dusky.core.merge;

/**
 * One statement of a merge.
 *
 * @param effect what its count of rows means
 * @param comment what it is for, for readers of the script
 * @param sql the statement, without a semicolon
 * @param into the table whose rows it adds, changes or takes out, or makes
 */
public record MergeStep(Effect effect, String comment, String sql, String into) {

  /** The purpose of a statement in the merge. */
  public enum Effect {
    /** Prepares or sorts out; its count is of no interest. */
    PREPARE,
    /** Sorts rows out that share their rank; of no use where none do. */
    TIES,
    /** Makes a scratch table. */
    SCRATCH,
    /** Chooses the files whose rows are merged. */
    CHOOSE,
    /** Makes the scratch table of the landed rows with their rank among those of one key. */
    RANK,
    /**
     * Ranks, writes and counts in one statement. Its one row has the columns {@code inserted} and
     * {@code updated}.
     */
    PASS,
    /** Puts a dimension's placeholder rows in. */
    PLACEHOLDER,
    /** Takes placeholder rows out again that nothing refers to. */
    WITHDRAW,
    /** Adds rows to the target. */
    ADD,
    /** Changes rows of the target. */
    CHANGE,
    /** Takes rows out of the target. */
    REMOVE;
  }

  /** Whether it makes a scratch table. */
  public boolean makesTable() {
    return effect == Effect.SCRATCH
        || effect == Effect.RANK
        || effect == Effect.TIES && !into.isEmpty();
  }

  /** A statement that prepares. */
  public static MergeStep prepare(String comment, String sql) {
    return new MergeStep(Effect.PREPARE, comment, sql, "");
  }

  /** A statement for rows that share their rank. */
  public static MergeStep ties(String comment, String sql) {
    return new MergeStep(Effect.TIES, comment, sql, "");
  }

  /** The query of the files whose rows are merged, for a scratch table in the ledger's database. */
  public static MergeStep choose(String name, String comment, String query) {
    return new MergeStep(Effect.CHOOSE, comment, query, name);
  }

  /** A statement that makes a scratch table of rows that share their rank. */
  public static MergeStep ties(String name, String comment, String sql) {
    return new MergeStep(Effect.TIES, comment, sql, name);
  }

  /** A statement that makes the scratch table of the ranked rows. */
  public static MergeStep rank(String name, String comment, String sql) {
    return new MergeStep(Effect.RANK, comment, sql, name);
  }

  /** A statement that makes a scratch table. */
  public static MergeStep make(String name, String comment, String sql) {
    return new MergeStep(Effect.SCRATCH, comment, sql, name);
  }

  /** The statement as it is printed. */
  @Override
  public String toString() {
    return "-- " + comment.replace("\n", "\n-- ") + "\n" + sql + ";\n";
  }
}
