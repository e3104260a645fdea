package dev.dusky.warehouses.posting;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.FormerRows;
import dev.dusky.core.tables.GroupChange;
import dev.dusky.core.tables.Landing;
import dev.dusky.core.tables.LandingChange;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.tables.Transaction;
import dev.dusky.core.tables.Trial;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.connection.JdbcGrants;
import dev.dusky.warehouses.connection.JdbcTransaction;
import dev.dusky.warehouses.connection.SqlFailures;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.JdbiException;

/** The tables of a database. */
public final class JdbcTables implements Tables {

  private static final TableName LEDGER_FILES = new TableName("dusky", "file");

  private static final String COLUMNS =
      """
      select column_name, data_type, character_maximum_length, numeric_precision, numeric_scale,
             is_nullable, column_default, is_identity, is_generated
      from information_schema.columns
      where table_schema = :schema and table_name = :table
      order by ordinal_position""";

  private final Database database;
  private final RowWriting writing;

  /** The tables of that database, and how rows get into them. */
  public JdbcTables(Database database, RowWriting writing) {
    this.database = database;
    this.writing = writing;
  }

  @Override
  public Optional<TableShape> shape(TableName table) {
    return database.transact(
        "Reading the columns of " + table,
        h -> {
          List<TableColumn> columns =
              h.createQuery(COLUMNS)
                  .bind("schema", table.schema())
                  .bind("table", table.table())
                  .map((row, context) -> column(row))
                  .list();
          if (columns.isEmpty() && database.dialect().exists(h.getConnection(), table)) {
            throw hidden(table);
          }
          return columns.isEmpty() ? Optional.empty() : Optional.of(new TableShape(table, columns));
        });
  }

  /** A table that exists is not reported as missing. */
  private Failure hidden(TableName table) {
    String user = database.settings().user().orElse("USER");
    return Failure.warehouse("Table %s cannot be seen by user %s".formatted(table, user))
        .because("it exists, and the user has no right on it")
        .hint(
            "Let its owner run\n  %s;\n{} lists all rights that it needs"
                .formatted(String.join(";\n  ", new JdbcGrants().looking(user, List.of(table)))),
            Invocation.of("probe", "--grants", user));
  }

  private TableColumn column(ResultSet row) throws SQLException {
    String dataType = row.getString("data_type");
    int length = (int) Math.min(row.getLong("character_maximum_length"), Integer.MAX_VALUE);
    var type =
        database
            .dialect()
            .typeOf(dataType, length, row.getInt("numeric_precision"), row.getInt("numeric_scale"));
    boolean filled =
        row.getString("column_default") != null
            || "YES".equals(row.getString("is_identity"))
            || "ALWAYS".equals(row.getString("is_generated"));
    boolean notNull = "NO".equals(row.getString("is_nullable"));
    String text = dataType.equals("jsonb") ? dataType : type.map(Object::toString).orElse(dataType);
    return new TableColumn(row.getString("column_name"), type, text, notNull, filled);
  }

  @Override
  public void create(TableName table, List<FeedColumn> columns) {
    create(table, createStatement(table, columns));
  }

  /** Runs the statement that creates a table, unless another process has created it meanwhile. */
  public void create(TableName table, String sql) {
    database.transact(
        "Creating table " + table,
        h -> {
          database.dialect().serialiseMigrations(h.getConnection());
          h.execute("create schema if not exists " + Identifiers.quote(table.schema()));
          h.execute(sql.replaceFirst("^create table ", "create table if not exists "));
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
          .append(database.dialect().typeName(column.type()))
          .append(column.notNull() ? " not null,\n" : ",\n");
    }
    for (String name : Provenance.COLUMNS) {
      sql.append("  ").append(Identifiers.quote(name)).append(" bigint not null");
      sql.append(name.equals(Provenance.ROW) ? "\n)" : ",\n");
    }
    return sql.toString();
  }

  @Override
  public boolean writable(TableName table) {
    return database.transact(
        "Asking for the rights on " + table,
        h -> database.dialect().mayWrite(h.getConnection(), table));
  }

  @Override
  public List<TableRule> rules(TableName table) {
    return database.transact(
        "Reading the rules of " + table, h -> database.dialect().rules(h.getConnection(), table));
  }

  @Override
  public int concurrency(TableName table) {
    int most = database.dialect().embedded() ? 1 : database.settings().connections();
    boolean independent =
        most > 1
            && database.transact(
                "Reading the rules of " + table,
                h -> database.dialect().independent(h.getConnection(), table));
    return independent ? most : 1;
  }

  @Override
  public String addStatement(TableName table, GrownColumn column) {
    return "alter table %s add column %s %s"
        .formatted(
            Identifiers.quote(table),
            Identifiers.quote(column.name()),
            database.dialect().typeName(column.type()));
  }

  @Override
  public String widenStatement(TableName table, GrownColumn column) {
    return "alter table %s alter column %s set data type %s"
        .formatted(
            Identifiers.quote(table),
            Identifiers.quote(column.name()),
            database.dialect().typeName(column.type()));
  }

  @Override
  public String addColumn(Transaction transaction, TableName table, GrownColumn column) {
    return alter(transaction, table, addStatement(table, column));
  }

  @Override
  public String widenColumn(Transaction transaction, TableName table, GrownColumn column) {
    return alter(transaction, table, widenStatement(table, column));
  }

  private String alter(Transaction transaction, TableName table, String sql) {
    try {
      JdbcTransaction.of(transaction).handle().execute(sql);
      return sql;
    } catch (JdbiException e) {
      SQLException cause = Database.sqlException(e);
      if (SqlFailures.broken(cause)) {
        throw database.failures().of("Changing " + table, cause);
      }
      throw Failure.file("Table " + table + " cannot be extended for the file")
          .because(SqlFailures.firstLine(cause))
          .hint("Change the table yourself, or let drift capture unknown fields")
          .from(cause);
    }
  }

  @Override
  public long takeOut(Transaction transaction, TableName table, long loadId, long fileId) {
    boolean found = shape(table).map(TableShape::hasProvenance).orElse(false);
    return found ? delete(JdbcTransaction.of(transaction).handle(), table, loadId, fileId) : 0;
  }

  private long delete(Handle handle, TableName table, long loadId, long fileId) {
    try {
      return handle
          .createUpdate(
              "delete from %s where dusky_load = :load and dusky_file = :file"
                  .formatted(Identifiers.quote(table)))
          .bind("load", loadId)
          .bind("file", fileId)
          .execute();
    } catch (JdbiException e) {
      SQLException cause = Database.sqlException(e);
      if (Database.state(e).startsWith("2350")) {
        throw Failure.warehouse("Rows of " + table + " cannot be removed")
            .because("other tables refer to them: " + SqlFailures.firstLine(cause))
            .hint("Remove the referring rows first. Nothing was changed")
            .from(cause);
      }
      throw database.failures().of("Removing rows from " + table, cause);
    }
  }

  @Override
  public LandingChange change(Transaction transaction, Landing landing, long loadId, long fileId) {
    return new JdbcLandingChange(
        new Posting(database, JdbcTransaction.of(transaction), landing, loadId, fileId), writing);
  }

  @Override
  public GroupChange changes(Transaction transaction, Landing landing, long loadId) {
    return new JdbcGroupChange(database, writing, JdbcTransaction.of(transaction), landing, loadId);
  }

  @Override
  public FormerRows former() {
    return new JdbcFormerRows(database);
  }

  @Override
  public Trial trial() {
    boolean booked = shape(LEDGER_FILES).isPresent();
    Handle own = database.connect();
    return new JdbcTrial(database, own, booked);
  }
}
