package dev.dusky.core.tables;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.table.TableShape;
import java.util.List;
import java.util.Optional;

/**
 * The port to landing and target tables. All methods throw a {@link dev.dusky.core.failure.Failure}
 * of kind WAREHOUSE that says what was refused, unless they say otherwise.
 */
public interface Tables {

  /** The columns of a table, or nothing if it does not exist. */
  Optional<TableShape> shape(TableName table);

  /** Creates a table with these columns and the provenance columns. */
  void create(TableName table, List<FeedColumn> columns);

  /** Creates a feed's landing table, divided as the feed says where tables can be. */
  default void create(Feed feed) {
    create(feed.into(), feed.columns());
  }

  /** The statement that {@link #create} would run. */
  String createStatement(TableName table, List<FeedColumn> columns);

  /** Whether this session may write rows into an existing table. */
  boolean writable(TableName table);

  /** The rules by which a table refuses rows, as far as they are known. */
  List<TableRule> rules(TableName table);

  /** How many files may be written into a table at the same time; at least 1. */
  int concurrency(TableName table);

  /** The statement that {@link #addColumn} would run. */
  String addStatement(TableName table, GrownColumn column);

  /** The statement that {@link #widenColumn} would run. */
  String widenStatement(TableName table, GrownColumn column);

  /**
   * Adds a column.
   *
   * @return the statement that ran
   * @throws dev.dusky.core.failure.Failure of kind FILE if the table refuses it
   */
  String addColumn(Transaction transaction, TableName table, GrownColumn column);

  /**
   * Makes the type of a column wider.
   *
   * @return the statement that ran
   * @throws dev.dusky.core.failure.Failure of kind FILE if the table refuses it
   */
  String widenColumn(Transaction transaction, TableName table, GrownColumn column);

  /**
   * Deletes the rows that a load posted of a file, found by their provenance.
   *
   * @return how many there were; 0 if the table has no provenance columns
   */
  long takeOut(Transaction transaction, TableName table, long loadId, long fileId);

  /** Starts a file's change of a landing table. */
  LandingChange change(Transaction transaction, Landing landing, long loadId, long fileId);

  /** Starts the change that several small files make together. */
  GroupChange changes(Transaction transaction, Landing landing, long loadId);

  /**
   * Starts a change whose rows other machines write.
   *
   * @throws IllegalStateException if rows of such tables are written in a database
   */
  default AdoptedRows adopted(Transaction transaction, TableName table) {
    throw new IllegalStateException("rows of such tables are written in their database");
  }

  /** What landing tables held before loads replaced it. */
  FormerRows former();

  /** Opens a transaction for a rehearsal. */
  Trial trial();
}
