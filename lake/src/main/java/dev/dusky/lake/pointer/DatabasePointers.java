package dev.dusky.lake.pointer;

import dev.dusky.core.table.TableName;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The pointers of a catalog's tables to their current metadata, in the table that Iceberg's JDBC
 * catalog defines (version 1 of its schema). Every change is made on a given connection and belongs
 * to that connection's transaction, so that it commits or disappears with what else is in it.
 */
public final class DatabasePointers implements TablePointers {

  private static final String OF_TABLE =
      " where catalog_name = ? and table_namespace = ? and table_name = ?"
          + " and (iceberg_type = 'TABLE' or iceberg_type is null)";

  private final String catalog;

  /** The pointers of the catalog of that name. */
  public DatabasePointers(String catalog) {
    this.catalog = catalog;
  }

  @Override
  public boolean exclusive() {
    return true;
  }

  @Override
  public boolean exist(Connection connection) throws SQLException {
    for (String name : List.of("iceberg_tables", "ICEBERG_TABLES")) {
      try (ResultSet found =
          connection
              .getMetaData()
              .getTables(null, null, name, new String[] {"TABLE", "BASE TABLE"})) {
        if (found.next()) {
          return true;
        }
      }
    }
    return false;
  }

  @Override
  public void prepare(Connection connection) throws SQLException {
    try (Statement statement = connection.createStatement()) {
      statement.execute(
          "create table if not exists iceberg_tables (catalog_name varchar(255) not null,"
              + " table_namespace varchar(255) not null, table_name varchar(255) not null,"
              + " metadata_location varchar(1000), previous_metadata_location varchar(1000),"
              + " iceberg_type varchar(5),"
              + " primary key (catalog_name, table_namespace, table_name))");
      statement.execute(
          "create table if not exists iceberg_namespace_properties (catalog_name varchar(255)"
              + " not null, namespace varchar(255) not null, property_key varchar(255),"
              + " property_value varchar(1000),"
              + " primary key (catalog_name, namespace, property_key))");
    }
  }

  @Override
  public Optional<String> find(Connection connection, TableName table, boolean held)
      throws SQLException {
    String sql = "select metadata_location from iceberg_tables" + OF_TABLE;
    try (PreparedStatement select = connection.prepareStatement(held ? sql + " for update" : sql)) {
      name(select, 1, table);
      try (ResultSet row = select.executeQuery()) {
        return row.next() ? Optional.ofNullable(row.getString(1)) : Optional.empty();
      }
    }
  }

  @Override
  public boolean enter(Connection connection, TableName table, String metadata)
      throws SQLException {
    try (PreparedStatement insert =
        connection.prepareStatement(
            "insert into iceberg_tables (catalog_name, table_namespace, table_name,"
                + " metadata_location, iceberg_type)"
                + " select ?, ?, ?, ?, 'TABLE' where not exists (select 1 from iceberg_tables"
                + OF_TABLE
                + ")")) {
      name(insert, 1, table);
      insert.setString(4, metadata);
      name(insert, 5, table);
      return insert.executeUpdate() == 1;
    }
  }

  @Override
  public boolean move(Connection connection, TableName table, String from, String to)
      throws SQLException {
    try (PreparedStatement update =
        connection.prepareStatement(
            "update iceberg_tables set metadata_location = ?, previous_metadata_location = ?"
                + OF_TABLE
                + " and metadata_location = ?")) {
      update.setString(1, to);
      update.setString(2, from);
      name(update, 3, table);
      update.setString(6, from);
      return update.executeUpdate() == 1;
    }
  }

  @Override
  public boolean remove(Connection connection, TableName table, String from) throws SQLException {
    try (PreparedStatement delete =
        connection.prepareStatement(
            "delete from iceberg_tables" + OF_TABLE + " and metadata_location = ?")) {
      name(delete, 1, table);
      delete.setString(4, from);
      return delete.executeUpdate() == 1;
    }
  }

  @Override
  public Map<TableName, String> locations(Connection connection) throws SQLException {
    Map<TableName, String> tables = new LinkedHashMap<>();
    try (PreparedStatement select =
        connection.prepareStatement(
            "select table_namespace, table_name, metadata_location from iceberg_tables"
                + " where catalog_name = ? and (iceberg_type = 'TABLE' or iceberg_type is null)"
                + " order by 1, 2")) {
      select.setString(1, catalog);
      try (ResultSet row = select.executeQuery()) {
        while (row.next()) {
          tables.put(new TableName(row.getString(1), row.getString(2)), row.getString(3));
        }
      }
    }
    return tables;
  }

  private void name(PreparedStatement statement, int from, TableName table) throws SQLException {
    statement.setString(from, catalog);
    statement.setString(from + 1, table.schema());
    statement.setString(from + 2, table.table());
  }
}
