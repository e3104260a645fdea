package dev.dusky.warehouses.merging;

import dev.dusky.core.merge.MergeStep;
import dev.dusky.warehouses.script.MergePlan;
import dev.dusky.warehouses.script.MergeScript;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;

/**
 * The statements of one merge over its tables. What they change commits with the ledger's
 * transaction, or is undone with it.
 */
public interface MergeWork extends AutoCloseable {

  /** Whether one statement can judge and write at the same time. */
  boolean returnsMerged() throws SQLException;

  /** Whether that statement can also give the values that it replaced. */
  boolean returnsReplaced() throws SQLException;

  /** Makes a scratch table of a query's rows. */
  void make(String name, String query) throws SQLException;

  /**
   * Runs a step.
   *
   * @return how many rows it added or took out
   */
  long run(MergeStep step) throws SQLException;

  /**
   * Runs a step that judges and writes at the same time.
   *
   * @param alone whether it reads no other large table
   * @param totals how many columns it sums
   */
  Pass pass(MergeStep step, MergeScript script, boolean alone, int totals) throws SQLException;

  /**
   * The files whose rows are merged are in a scratch table of the ledger's database and are held:
   * from now on statements see them, and all their rows.
   *
   * @param rows how many rows they have
   */
  void chosen(String scratch, long rows) throws SQLException;

  /**
   * A step has made a scratch table.
   *
   * @param ordered whether no statement after it has a plan to choose
   */
  void made(String scratch, boolean ordered) throws SQLException;

  /** The target is written next; {@code unique} says whether its key is. */
  void beforeWriting(boolean unique) throws SQLException;

  /** Hands each row of a query over: null, a number, a truth value, or text. */
  void read(String query, Consumer<List<Object>> row) throws SQLException;

  /**
   * Puts the rows of a query into a table of the ledger.
   *
   * @param into its name and columns, as in an {@code insert}
   */
  void enter(String into, String query) throws SQLException;

  /** The statements that make useful indexes which large tables lack. */
  List<String> missingIndexes(MergePlan plan);

  /** Lets the changes take part in the ledger's transaction, which is committed next. */
  void complete() throws SQLException;

  @Override
  void close();

  /** The number that a query gives. */
  default long number(String query) throws SQLException {
    long[] number = new long[1];
    read(query, row -> number[0] = ((Number) row.get(0)).longValue());
    return number[0];
  }

  /** The texts that a query gives. */
  default List<String> texts(String query) throws SQLException {
    List<String> texts = new ArrayList<>();
    read(query, row -> texts.add((String) row.get(0)));
    return texts;
  }
}
