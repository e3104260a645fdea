package dev.dusky.warehouses;

import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.ledger.Ledger;
import dev.dusky.core.ledger.RejectTaker;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.RowWriter;
import dev.dusky.core.warehouse.Warehouse;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** A warehouse over JDBC. Holds one connection for looking and opens more for loads. */
public final class JdbcWarehouse implements Warehouse {

  private static final Logger LOG = LoggerFactory.getLogger(JdbcWarehouse.class);

  private final WarehouseAddress address;
  private final Dialect dialect;
  private final SqlFailures failures;
  private final Object looking = new Object();
  private Connection connection;

  JdbcWarehouse(WarehouseAddress address, Dialect dialect) {
    this.address = address;
    this.dialect = dialect;
    this.failures = new SqlFailures(address, dialect);
    this.connection = connect();
  }

  Connection connect() {
    try {
      return dialect.connect(address);
    } catch (SQLException e) {
      throw failures.of("Opening the warehouse " + address.url(), e);
    }
  }

  Dialect dialect() {
    return dialect;
  }

  SqlFailures failures() {
    return failures;
  }

  /** Work on the connection that ends with a commit or, if it fails, a rollback. */
  @FunctionalInterface
  interface Work<T> {
    T run(Connection connection) throws SQLException;
  }

  /** Runs the work in a transaction of its own on the looking connection. */
  <T> T transact(String doing, Work<T> work) {
    synchronized (looking) {
      if (connection == null) {
        connection = connect();
      }
      try {
        T result = work.run(connection);
        connection.commit();
        return result;
      } catch (SQLException e) {
        Failure failure = failed(connection, doing, e);
        if (SqlFailures.broken(e)) {
          rest();
        }
        throw failure;
      } catch (RuntimeException e) {
        undo(connection);
        throw e;
      }
    }
  }

  /** Lets go of the database until it is needed again; an embedded one is free for others then. */
  public void rest() {
    synchronized (looking) {
      if (connection != null) {
        release(connection);
        connection = null;
      }
    }
  }

  /** Whether the database lives in this process and belongs to one process at a time. */
  public boolean embedded() {
    return dialect.embedded();
  }

  /** Whether the database can no longer be used in this process. */
  public boolean lost() {
    return failures.lost();
  }

  /** Starts writing a file's rows on that connection; {@link Posting} has what each of these is. */
  RowWriter writer(
      Connection own, Feed feed, TableShape table, long load, long file, boolean booked) {
    try {
      return dialect.writer(new Posting(own, feed, table, load, file, failures, dialect, booked));
    } catch (SQLException e) {
      throw failures.of("Writing into " + table.name(), e);
    }
  }

  /** What a writer of a file's rows needs to know. */
  Posting posting(Connection own, Feed feed, TableShape table, long load, long file) {
    return new Posting(own, feed, table, load, file, failures, dialect, true);
  }

  /** Rolls back after a failure and says what it was. */
  Failure failed(Connection failing, String doing, SQLException e) {
    Failure failure = failures.of(doing, e);
    undo(failing);
    return failure;
  }

  /**
   * Rolls back what is not committed. If the connection is broken there is nothing left to undo:
   * the database drops the transaction with it.
   */
  void undo(Connection used) {
    try {
      if (!failures.lost() && !used.isClosed()) {
        used.rollback();
      }
    } catch (SQLException e) {
      LOG.debug("rolling back on a broken connection", e);
    }
  }

  /** Rolls back and closes a connection of a load. */
  void release(Connection used) {
    undo(used);
    try {
      if (!failures.lost()) {
        used.close();
      }
    } catch (SQLException e) {
      LOG.debug("closing a broken connection", e);
    }
  }

  @Override
  public String place() {
    return address.toString();
  }

  @Override
  public Ledger ledger() {
    return new JdbcLedger(this);
  }

  /** Books to rehearse with: nothing that is done with them stays. */
  public Ledger rehearsal(RejectTaker taker) {
    return new JdbcRehearsal(this, taker);
  }

  /**
   * Whether the rows of a rehearsal are judged by a table that is there: they are written into it
   * and taken back, for which some users, and all on a server that only reads, have no right.
   */
  public boolean judges(TableName table) {
    return transact("Asking for the rights on " + table, c -> dialect.mayWrite(c, table));
  }

  /** The rules of a table. */
  public List<TableRule> rules(TableName table) {
    return transact("Reading the rules of " + table, c -> dialect.rules(c, table));
  }

  /** Whether rows of a table may be written by several transactions that never wait. */
  boolean independent(TableName table) {
    return transact("Reading the rules of " + table, c -> dialect.independent(c, table));
  }

  /** How many files of one load may be written at the same time. */
  int connections() {
    return address.connections();
  }

  /** The books as commands read them. */
  public Books books() {
    return new Books(this);
  }

  /** The rejects as commands read and settle them. */
  public RejectBook rejects() {
    return new RejectBook(this);
  }

  /** What the ledger knows of feeds as such. */
  public FeedBook feeds() {
    return new FeedBook(this);
  }

  /** The drifts of files. */
  public DriftBook drifts() {
    return new DriftBook(this);
  }

  /** What moves fields from the leftovers into columns. */
  public Promotions promotions() {
    return new Promotions(this);
  }

  /** What undoes loads and files. */
  public Reversals reversals() {
    return new Reversals(this);
  }

  /** What merges landed rows into targets. */
  public Merges merges() {
    return new Merges(this);
  }

  /** The books held against targets of merges. */
  public MergeProofs mergeProofs() {
    return new MergeProofs(this);
  }

  /** The books held against tables and rejects. */
  public BookChecks checks() {
    return new BookChecks(this);
  }

  @Override
  public Optional<TableShape> shape(TableName table) {
    String sql =
        """
        select column_name, data_type, character_maximum_length, numeric_precision, numeric_scale,
               is_nullable, column_default, is_identity, is_generated
        from information_schema.columns
        where table_schema = ? and table_name = ?
        order by ordinal_position""";
    return transact(
        "Reading the columns of " + table,
        c -> {
          List<TableColumn> columns = new ArrayList<>();
          try (PreparedStatement query = c.prepareStatement(sql)) {
            query.setString(1, table.schema());
            query.setString(2, table.table());
            try (ResultSet row = query.executeQuery()) {
              while (row.next()) {
                columns.add(column(row));
              }
            }
          }
          if (columns.isEmpty() && dialect.exists(c, table)) {
            throw hidden(table);
          }
          return columns.isEmpty() ? Optional.empty() : Optional.of(new TableShape(table, columns));
        });
  }

  /** A table that is there is not one that is missing. */
  private Failure hidden(TableName table) {
    String user = address.user().orElse("USER");
    return Failure.warehouse("Table %s cannot be seen by user %s".formatted(table, user))
        .because("it exists, and the user has no right on it")
        .next(
            "Let its owner run\n  %s;\n'dusky probe --grants %s' lists all rights that it needs"
                .formatted(String.join(";\n  ", Grants.looking(user, List.of(table))), user));
  }

  private TableColumn column(ResultSet row) throws SQLException {
    String dataType = row.getString(2);
    long length = row.getLong(3);
    int precision = row.getInt(4);
    int scale = row.getInt(5);
    var type =
        dialect.typeOf(dataType, (int) Math.min(length, Integer.MAX_VALUE), precision, scale);
    boolean filled =
        row.getString(7) != null
            || "YES".equals(row.getString(8))
            || "ALWAYS".equals(row.getString(9));
    boolean notNull = "NO".equals(row.getString(6));
    String text = type.map(Object::toString).orElse(dataType);
    if (dataType.equals("jsonb")) {
      text = dataType;
    }
    return new TableColumn(row.getString(1), type, text, notNull, filled);
  }

  @Override
  public void create(TableName table, List<FeedColumn> columns) {
    create(table, createStatement(table, columns));
  }

  /** Runs the statement that makes a table, unless another process has made it meanwhile. */
  void create(TableName table, String sql) {
    transact(
        "Creating table " + table,
        c -> {
          dialect.serialiseMigrations(c);
          try (Statement statement = c.createStatement()) {
            statement.execute("create schema if not exists " + Identifiers.quote(table.schema()));
            statement.execute(sql.replaceFirst("^create table ", "create table if not exists "));
          }
          return null;
        });
  }

  @Override
  public String createStatement(TableName table, List<FeedColumn> columns) {
    StringBuilder sql = new StringBuilder("create table " + Identifiers.quote(table) + " (\n");
    for (FeedColumn column : columns) {
      sql.append("  ")
          .append(Identifiers.quote(column.name()))
          .append(' ')
          .append(dialect.typeName(column.type()))
          .append(column.notNull() ? " not null,\n" : ",\n");
    }
    for (String name : Provenance.COLUMNS) {
      sql.append("  ").append(Identifiers.quote(name)).append(" bigint not null");
      sql.append(name.equals(Provenance.ROW) ? "\n)" : ",\n");
    }
    return sql.toString();
  }

  @Override
  public List<ProbeStep> probe() {
    return List.of(
        new ProbeStep("connect", this::version),
        new ProbeStep("read", this::tableCount),
        new ProbeStep("write", this::tryWriting));
  }

  private ProbeStep.Finding version() {
    return transact(
        "Asking the warehouse for its version",
        c ->
            ProbeStep.Finding.passed(
                c.getMetaData().getDatabaseProductName()
                    + " "
                    + c.getMetaData().getDatabaseProductVersion()));
  }

  private ProbeStep.Finding tableCount() {
    return transact(
        "Listing tables",
        c -> {
          String sql =
              "select count(*) from information_schema.tables where lower(table_schema) not in"
                  + " ('information_schema', 'pg_catalog')";
          try (Statement statement = c.createStatement();
              ResultSet row = statement.executeQuery(sql)) {
            row.next();
            return ProbeStep.Finding.passed(row.getLong(1) + " tables visible");
          }
        });
  }

  /** Makes a schema and a table in a transaction that is rolled back where the database can. */
  private ProbeStep.Finding tryWriting() {
    return transact(
        "Making a schema and a table for trial",
        c -> {
          try (Statement statement = c.createStatement()) {
            statement.execute("create schema dusky_probe");
            try {
              statement.execute("create table dusky_probe.trial (id bigint)");
              statement.execute("insert into dusky_probe.trial values (1)");
            } finally {
              statement.execute("drop schema dusky_probe cascade");
            }
          }
          return ProbeStep.Finding.passed("schema, table and row made and removed again");
        });
  }

  @Override
  public void close() {
    rest();
  }
}
