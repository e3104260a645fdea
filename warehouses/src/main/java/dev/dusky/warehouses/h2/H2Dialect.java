package dev.dusky.warehouses.h2;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.warehouses.connection.Dialect;
import dev.dusky.warehouses.connection.RuleCatalogue;
import dev.dusky.warehouses.connection.SqlFailures;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Properties;
import org.h2.Driver;
import org.h2.api.ErrorCode;

/** H2, embedded in this process: the warehouse that needs no server. */
public final class H2Dialect implements Dialect {

  private static final Object STARTS = new Object();

  /** An hour, in milliseconds: longer than any change of tables takes. */
  private static final int LONG_DELAY = 3_600_000;

  /** How long to wait for another process to release the database file. */
  private static final long WAIT_MILLIS = 60_000;

  private static final long WAIT_STEP_MILLIS = 100;

  /** The length that H2 reports for text without a limit. */
  private static final int LONGEST = 1_000_000_000;

  /**
   * Names fold to lower case as in PostgreSQL; a commit is on disk when it returns; this program,
   * not a shutdown hook, closes the database.
   */
  private static final String SETTINGS =
      ";DATABASE_TO_LOWER=TRUE;WRITE_DELAY=0;DB_CLOSE_ON_EXIT=FALSE";

  private static final String RULES =
      """
      select 'n', column_name || ' not null', array[column_name], null, null, null, null
      from information_schema.columns
      where table_schema = ? and table_name = ? and is_nullable = 'NO'
      union all
      select 'c', t.constraint_name,
        (select array_agg(u.column_name) from information_schema.constraint_column_usage u
         where u.constraint_schema = t.constraint_schema
           and u.constraint_name = t.constraint_name),
        k.check_clause, null, null, null
      from information_schema.table_constraints t
      join information_schema.check_constraints k
        on k.constraint_schema = t.constraint_schema and k.constraint_name = t.constraint_name
      where t.table_schema = ? and t.table_name = ? and t.constraint_type = 'CHECK'
      union all
      select 'k', t.constraint_name,
        (select array_agg(u.column_name order by u.ordinal_position)
         from information_schema.key_column_usage u
         where u.constraint_schema = t.constraint_schema
           and u.constraint_name = t.constraint_name),
        null, null, null, null
      from information_schema.table_constraints t
      where t.table_schema = ? and t.table_name = ?
        and t.constraint_type in ('PRIMARY KEY', 'UNIQUE')
      union all
      select 'k', i.index_name,
        (select array_agg(c.column_name order by c.ordinal_position)
         from information_schema.index_columns c
         where c.index_schema = i.index_schema and c.index_name = i.index_name),
        null, null, null, null
      from information_schema.indexes i
      where i.table_schema = ? and i.table_name = ? and i.index_type_name = 'UNIQUE INDEX'
      union all
      select 'r', t.constraint_name,
        (select array_agg(u.column_name order by u.ordinal_position)
         from information_schema.key_column_usage u
         where u.constraint_schema = t.constraint_schema
           and u.constraint_name = t.constraint_name),
        null, p.table_schema, p.table_name,
        (select array_agg(q.column_name order by u.ordinal_position)
         from information_schema.key_column_usage u
         join information_schema.key_column_usage q
           on q.constraint_schema = r.unique_constraint_schema
           and q.constraint_name = r.unique_constraint_name
           and q.ordinal_position = u.position_in_unique_constraint
         where u.constraint_schema = t.constraint_schema
           and u.constraint_name = t.constraint_name)
      from information_schema.table_constraints t
      join information_schema.referential_constraints r
        on r.constraint_schema = t.constraint_schema and r.constraint_name = t.constraint_name
      join information_schema.table_constraints p
        on p.constraint_schema = r.unique_constraint_schema
        and p.constraint_name = r.unique_constraint_name
      where t.table_schema = ? and t.table_name = ? and t.constraint_type = 'FOREIGN KEY'""";

  @Override
  public Connection connect(DatabaseSettings address) throws SQLException {
    Properties properties = new Properties();
    properties.setProperty("user", address.user().orElse("dusky"));
    properties.setProperty("password", address.password().map(Secret::reveal).orElse(""));
    long giveUp = System.nanoTime() + WAIT_MILLIS * 1_000_000;
    while (true) {
      try {
        Connection connection = Driver.load().connect(address.url() + SETTINGS, properties);
        connection.setAutoCommit(false);
        return connection;
      } catch (SQLException e) {
        if (e.getErrorCode() != ErrorCode.DATABASE_ALREADY_OPEN_1 || System.nanoTime() > giveUp) {
          throw e;
        }
        pause(e);
      }
    }
  }

  private static void pause(SQLException reason) throws SQLException {
    try {
      Thread.sleep(WAIT_STEP_MILLIS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw reason;
    }
  }

  @Override
  public String typeName(SqlType type) {
    return switch (type.kind()) {
      case TEXT -> "character large object";
      case TIME -> "time(6)";
      case TIMESTAMP -> "timestamp(6)";
      case TIMESTAMP_TZ -> "timestamp(6) with time zone";
      case BINARY -> type.length() == 0 ? "binary large object" : type.toString();
      default -> type.toString();
    };
  }

  /** Large objects cannot be keys. */
  @Override
  public String keyTypeName(SqlType type) {
    return type.kind() == TypeKind.TEXT ? "character varying" : typeName(type);
  }

  @Override
  public Optional<SqlType> typeOf(String dataType, int length, int precision, int scale) {
    return switch (dataType.toLowerCase(Locale.ROOT)) {
      case "character large object" -> Optional.of(SqlType.of(TypeKind.TEXT));
      case "binary large object" -> Optional.of(SqlType.of(TypeKind.BINARY));
      case "character varying" ->
          Optional.of(SqlType.of(TypeKind.VARCHAR, length >= LONGEST ? 0 : length));
      case "character" -> Optional.of(SqlType.of(TypeKind.CHAR, length));
      case "binary varying" -> Optional.of(SqlType.of(TypeKind.BINARY, length));
      case "numeric", "decimal" -> Optional.of(SqlType.decimal(precision, scale));
      default -> SqlType.parse(dataType);
    };
  }

  @Override
  public String bytesType() {
    return "binary large object";
  }

  @Override
  public String textType() {
    return "character large object";
  }

  @Override
  public String existence() {
    return "select 1 from information_schema.tables where table_schema = ? and table_name = ?";
  }

  /** The database belongs to this process, so its own threads are all there are. */
  @Override
  public void alone(Connection connection, Change work) throws SQLException {
    synchronized (STARTS) {
      work.run();
    }
  }

  /** Nulls are never equal, so a column that is null for all other tallies does it. */
  @Override
  public String livePosting() {
    return """
        alter table dusky.tally add column live_file bigint generated always as
          (case when reversed_by is null and state in ('posted', 'twin') then file_id end);
        create unique index tally_live on dusky.tally (live_file);
        """;
  }

  /** its own column, since the order of texts is that of their UTF-16 units. */
  @Override
  public String pathIndex() {
    return """
        alter table dusky.file add column path_bytes varbinary(4400)
          generated always as (cast(path as varbinary(4400)));
        create index file_path on dusky.file (feed, path_bytes);
        """;
  }

  @Override
  public String pathOrder() {
    return "path_bytes";
  }

  @Override
  public String pathFrom() {
    return "path_bytes >= cast(cast(:path as varchar(1100)) as varbinary(4400))";
  }

  @Override
  public String claimClause() {
    return "for update skip locked";
  }

  @Override
  public boolean mayWrite(Connection connection, TableName table) throws SQLException {
    return !connection.isReadOnly();
  }

  @Override
  public void serialiseMigrations(Connection connection) {
    // Only one process at a time has the database file open.
  }

  /**
   * Each of the statements commits, and some are several steps that a kill can come between: a
   * table is copied, dropped and its copy renamed. So nothing is written to the file meanwhile.
   */
  @Override
  public void wholly(Connection connection, Change change) throws SQLException {
    int before = writeDelay(connection);
    setWriteDelay(connection, LONG_DELAY);
    try {
      change.run();
    } catch (SQLException | RuntimeException e) {
      try {
        setWriteDelay(connection, before);
      } catch (SQLException again) {
        e.addSuppressed(again);
      }
      throw e;
    }
    setWriteDelay(connection, before);
    try (Statement statement = connection.createStatement()) {
      statement.execute("checkpoint sync");
    }
  }

  private static int writeDelay(Connection connection) throws SQLException {
    String sql =
        "select setting_value from information_schema.settings where setting_name = 'WRITE_DELAY'";
    try (Statement statement = connection.createStatement();
        ResultSet row = statement.executeQuery(sql)) {
      return row.next() ? row.getInt(1) : 0;
    }
  }

  private static void setWriteDelay(Connection connection, int milliseconds) throws SQLException {
    try (Statement statement = connection.createStatement()) {
      statement.execute("set write_delay " + milliseconds);
    }
  }

  /** The database belongs to one process, which settles one file of a feed after the other. */
  @Override
  public void holdContents(Connection connection, String feed) {}

  @Override
  public void holdLanding(Connection connection, TableName table) {
    // Only one process at a time has the database file open.
  }

  @Override
  public void lockTable(Connection connection, TableName table) {
    // Only one process at a time has the database file open.
  }

  @Override
  public List<TableRule> rules(Connection connection, TableName table) throws SQLException {
    return RuleCatalogue.read(connection, RULES, table);
  }

  @Override
  public String makeScratch(String definition) {
    return "create local temporary table if not exists " + definition + " transactional";
  }

  @Override
  public String makeScratch(String name, String query) {
    return "create local temporary table " + name + " not persistent transactional as\n" + query;
  }

  @Override
  public Optional<String> countScratch(String name) {
    return Optional.empty(); // counting would end the transaction
  }

  @Override
  public boolean returnsMerged(Connection connection) {
    return false;
  }

  @Override
  public boolean returnsReplaced(Connection connection) {
    return false;
  }

  @Override
  public List<String> mergeInOrder(boolean alone) {
    return List.of();
  }

  @Override
  public List<String> sortMemory(long rows) {
    return List.of();
  }

  @Override
  public List<String> writeInOrder(boolean unique) {
    return List.of(); // H2 looks each row up by its key as it is
  }

  @Override
  public String aboutRows() {
    return "select row_count_estimate from information_schema.tables"
        + " where table_schema = :schema and table_name = :table";
  }

  @Override
  public String indexes() {
    return """
        select c.index_name, c.column_name from information_schema.index_columns c
        where c.table_schema = :schema and c.table_name = :table
        order by c.index_name, c.ordinal_position""";
  }

  /** Truncating would end the transaction. */
  @Override
  public String emptyScratch(String name) {
    return "delete from " + name;
  }

  @Override
  public String scratchType(TableColumn column) {
    return typeName(column.type().orElseThrow());
  }

  @Override
  public void checkAtOnce(Connection connection) {
    // H2 checks every constraint with its statement.
  }

  @Override
  public boolean embedded() {
    return true;
  }

  @Override
  public boolean doneAlready(SQLException e) {
    return switch (e.getErrorCode()) {
      case ErrorCode.DUPLICATE_COLUMN_NAME_1,
          ErrorCode.TABLE_OR_VIEW_ALREADY_EXISTS_1,
          ErrorCode.VIEW_ALREADY_EXISTS_1,
          ErrorCode.SECOND_PRIMARY_KEY,
          ErrorCode.INDEX_ALREADY_EXISTS_1,
          ErrorCode.VIEW_NOT_FOUND_1,
          ErrorCode.TABLE_OR_VIEW_NOT_FOUND_1,
          ErrorCode.CONSTRAINT_ALREADY_EXISTS_1,
          ErrorCode.CONSTRAINT_NOT_FOUND_1,
          ErrorCode.INDEX_NOT_FOUND_1 ->
          true;
      default -> false;
    };
  }

  @Override
  public boolean isLost(SQLException e) {
    return switch (e.getErrorCode()) {
      case ErrorCode.IO_EXCEPTION_1,
          ErrorCode.IO_EXCEPTION_2,
          ErrorCode.DATABASE_IS_CLOSED,
          ErrorCode.GENERAL_ERROR_1,
          ErrorCode.FILE_CORRUPTED_1 ->
          true;
      default -> false;
    };
  }

  @Override
  public Optional<Failure> explain(DatabaseSettings address, String doing, SQLException e) {
    String message = SqlFailures.firstLine(e);
    return switch (e.getErrorCode()) {
      case ErrorCode.DATABASE_ALREADY_OPEN_1 ->
          Optional.of(
              Failure.warehouse("The warehouse " + address.url() + " is in use")
                  .because("another process has kept it open for a minute")
                  .hint("Wait for that process, or use PostgreSQL to load from several at once"));
      case ErrorCode.WRONG_USER_OR_PASSWORD ->
          Optional.of(
              Failure.warehouse("The warehouse " + address.url() + " refuses this user")
                  .because(message)
                  .hint("Check user and password under warehouse in the configuration"));
      case ErrorCode.IO_EXCEPTION_1,
          ErrorCode.IO_EXCEPTION_2,
          ErrorCode.DATABASE_IS_CLOSED,
          ErrorCode.GENERAL_ERROR_1,
          ErrorCode.OBJECT_CLOSED ->
          Optional.of(
              Failure.warehouse(doing + " failed: the database file cannot be written or read")
                  .because(deepest(e))
                  .hint(
                      "Check disk space and rights where "
                          + address.url()
                          + " lies; unfinished work was rolled back, so run again afterwards"));
      case ErrorCode.FILE_VERSION_ERROR_1, ErrorCode.FILE_CORRUPTED_1 ->
          Optional.of(
              Failure.warehouse("The file of warehouse " + address.url() + " cannot be opened")
                  .because(message)
                  .hint("It is damaged or of another version; restore it from a copy"));
      default -> Optional.empty();
    };
  }

  /** The message of the deepest cause that has one. */
  private static String deepest(Throwable e) {
    String message = SqlFailures.firstLine(e);
    for (Throwable cause = e.getCause(); cause != null; cause = cause.getCause()) {
      message = cause.getMessage() == null ? message : SqlFailures.firstLine(cause);
    }
    return message;
  }
}
