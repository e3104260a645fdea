package dev.dusky.warehouses.merging;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.type.SqlType;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.posting.JdbcTables;
import dev.dusky.warehouses.script.ScratchWords;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jdbi.v3.core.Handle;

/** Tables that are in the ledger's database. */
public final class JdbcMergeTables implements MergeTables {

  private final Database database;
  private final JdbcTables tables;

  /** The tables of that database. */
  public JdbcMergeTables(Database database, JdbcTables tables) {
    this.database = database;
    this.tables = tables;
  }

  @Override
  public Optional<TableShape> shape(TableName table) {
    return tables.shape(table);
  }

  @Override
  public List<TableRule> rules(TableName table) {
    return tables.rules(table);
  }

  @Override
  public List<TableColumn> columns(String emptyQuery) throws QueryRefused {
    try {
      return database.transact("Reading the columns of the source", h -> columns(h, emptyQuery));
    } catch (Failure e) {
      String state =
          e.getCause() instanceof SQLException cause ? String.valueOf(cause.getSQLState()) : "";
      if (state.startsWith("08") || state.startsWith("57") || state.equals("42501")) {
        throw e; // it is not the query that is at fault
      }
      throw new QueryRefused(e.why(), e);
    }
  }

  private List<TableColumn> columns(Handle handle, String emptyQuery) throws SQLException {
    List<TableColumn> columns = new ArrayList<>();
    try (Statement statement = handle.getConnection().createStatement();
        ResultSet result = statement.executeQuery(emptyQuery)) {
      ResultSetMetaData meta = result.getMetaData();
      for (int i = 1; i <= meta.getColumnCount(); i++) {
        String name = meta.getColumnTypeName(i);
        int precision = meta.getPrecision(i);
        int length = precision == Integer.MAX_VALUE ? 0 : precision;
        Optional<SqlType> type =
            database.dialect().typeOf(name, length, precision, meta.getScale(i));
        columns.add(
            new TableColumn(
                meta.getColumnLabel(i),
                type,
                type.map(SqlType::toString).orElse(name),
                false,
                false));
      }
    }
    return columns;
  }

  @Override
  public String typeName(SqlType type) {
    return database.dialect().typeName(type);
  }

  @Override
  public String keyTypeName(SqlType type) {
    return database.dialect().keyTypeName(type);
  }

  @Override
  public void create(TableName table, NewTable definition) {
    tables.create(table, definition.statement(table));
  }

  @Override
  public void add(TableName table, List<TableColumn> columns) {
    database.transact(
        "Adding columns to " + table,
        h -> {
          for (TableColumn column : columns) {
            h.execute(adding(table, column));
          }
          return null;
        });
  }

  /** The statement that gives a table a column. */
  static String adding(TableName table, TableColumn column) {
    return "alter table %s add column %s %s"
        .formatted(Identifiers.quote(table), Identifiers.quote(column.name()), column.typeText());
  }

  @Override
  public ScratchWords scratch() {
    return database.dialect()::makeScratch;
  }

  @Override
  public boolean onePass() {
    return database.transact(
        "Asking the warehouse for its version",
        h -> database.dialect().returnsMerged(h.getConnection()));
  }

  @Override
  public MergeWork open(Handle ledger, Merge merge) {
    return new JdbcMergeWork(database, ledger);
  }
}
