package dev.dusky.warehouses.connection;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.warehouse.DatabaseSettings;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;

/** The differences between kinds of databases. */
public interface Dialect {

  /** Opens a connection with auto-commit off. */
  Connection connect(DatabaseSettings address) throws SQLException;

  /** The type's name in this database. */
  String typeName(SqlType type);

  /** The type that this database means by a row of {@code information_schema.columns}. */
  Optional<SqlType> typeOf(String dataType, int length, int precision, int scale);

  /** The type for bytes without a length limit. */
  String bytesType();

  /** The type for text without a length limit. */
  String textType();

  /** Whether a table or view is there, also if this user may not see or use it. */
  default boolean exists(Connection connection, TableName table) throws SQLException {
    try (PreparedStatement query = connection.prepareStatement(existence())) {
      query.setString(1, table.schema());
      query.setString(2, table.table());
      try (ResultSet row = query.executeQuery()) {
        return row.next();
      }
    }
  }

  /** The query for a row if there is a table of a schema and a name, seen by the role or not. */
  String existence();

  /**
   * Runs work while no other load begins and no process looks for dead loads, across commits:
   * between the entry of a load and the lock on it no process may take it for dead.
   */
  void alone(Connection connection, Change work) throws SQLException;

  /**
   * The statements that let a file have one tally in force by which it is posted or a twin, and no
   * second one.
   */
  String livePosting();

  /** The name of a type for a column that belongs to a key. */
  default String keyTypeName(SqlType type) {
    return typeName(type);
  }

  /** The statements that make paths of {@code dusky.file} be found in the order of their bytes. */
  String pathIndex();

  /** The expression that orders rows of {@code dusky.file} by their paths' bytes. */
  String pathOrder();

  /** The condition that a path is that of the parameter or is behind it in that order. */
  String pathFrom();

  /** Locks the chosen rows against other claims, leaving out those that are locked already. */
  String claimClause();

  /** Whether this session may write rows into a table that is there. */
  boolean mayWrite(Connection connection, TableName table) throws SQLException;

  /** Statements that change tables. */
  @FunctionalInterface
  interface Change {
    void run() throws SQLException;
  }

  /** Runs statements of which a process that is killed leaves all or none, committed or not. */
  default void wholly(Connection connection, Change change) throws SQLException {
    change.run();
  }

  /** Makes other processes wait here until this transaction ends. */
  void serialiseMigrations(Connection connection) throws SQLException;

  /** Makes others that ask for this table's rows to look for repeats wait for this transaction. */
  void holdLanding(Connection connection, TableName table) throws SQLException;

  /** Makes others wait that write into a table, until this transaction ends. */
  void lockTable(Connection connection, TableName table) throws SQLException;

  /**
   * Makes others that look for twins among a feed's files wait for this transaction; two that post
   * the same content at the same time would not see for each other.
   */
  void holdContents(Connection connection, String feed) throws SQLException;

  /**
   * Whether transactions that write rows of a table never wait for each other: it has no unique
   * index and no trigger.
   */
  default boolean independent(Connection connection, TableName table) throws SQLException {
    return false;
  }

  /** The rules of a table, as far as they can be determined. */
  List<TableRule> rules(Connection connection, TableName table) throws SQLException;

  /**
   * The statement that makes a table of this transaction alone, if it is not there.
   *
   * @param definition its name and columns
   */
  String makeScratch(String definition);

  /** The statement that makes a table of this transaction alone out of a query's rows. */
  String makeScratch(String name, String query);

  /** The statement that gives the planner statistics of such a table, if it needs one. */
  Optional<String> countScratch(String name);

  /**
   * The settings with which a statement changes many rows of a large table in the order of its key,
   * where the planner would go through it at random.
   *
   * @param unique whether the table has a unique index on that key
   */
  List<String> writeInOrder(boolean unique);

  /** Whether {@code merge} can return what it did to each row, within a larger statement. */
  boolean returnsMerged(Connection connection) throws SQLException;

  /** Whether {@code merge} can also return the values that it replaced. */
  boolean returnsReplaced(Connection connection) throws SQLException;

  /**
   * The settings with which one statement merges rows that come in the order of their keys.
   *
   * @param alone whether the statement joins no other large table
   */
  List<String> mergeInOrder(boolean alone);

  /** The settings of a transaction that sorts and joins about that many rows. */
  List<String> sortMemory(long rows);

  /** The query for an estimate of a table's rows, given :schema and :table. */
  String aboutRows();

  /** The query for the columns of a table's indexes, by index, given :schema and :table. */
  String indexes();

  /** The statement that empties it. */
  String emptyScratch(String name);

  /** The type of its column for this one of the landing table, without any rule. */
  String scratchType(TableColumn column);

  /**
   * The end of a subquery that looks up rows by their key, once for each row of the outer query.
   * The database must not choose another plan: its statistics may be from when the table was empty.
   *
   * @param table the table, quoted; its rows are called {@code l}
   * @param match the condition that they meet
   */
  default String lookup(String table, String match) {
    return "%s l where %s".formatted(table, match);
  }

  /** A join with the rows of a table, called {@code l}, that are looked up in the same way. */
  default String joinByLookup(String table, String match) {
    return "join %s l on %s".formatted(table, match);
  }

  /** Checks constraints immediately that are otherwise checked at the end of a transaction. */
  void checkAtOnce(Connection connection) throws SQLException;

  /** Whether the database lives in this process. */
  default boolean embedded() {
    return false;
  }

  /** Whether a statement failed because what it makes or drops is made or dropped already. */
  default boolean doneAlready(SQLException e) {
    return false;
  }

  /** Whether the database can no longer be used in this process, not even to roll back. */
  boolean isLost(SQLException e);

  /** Says in our words what the database refused, if it is something special to it. */
  Optional<Failure> explain(DatabaseSettings address, String doing, SQLException e);
}
