package dev.dusky.lake.pointer;

import dev.dusky.core.table.TableName;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Map;
import java.util.Optional;

/**
 * The pointers of a catalog's tables to their current metadata, as a connection's transaction sees
 * them. Every change belongs to that transaction, so that it commits or disappears with what else
 * is in it.
 */
public interface TablePointers {

  /** Whether nothing but this catalog's tables is at their place. */
  boolean exclusive();

  /** Whether the catalog can be asked. */
  boolean exist(Connection connection) throws SQLException;

  /** Makes what the catalog needs, unless it exists. */
  void prepare(Connection connection) throws SQLException;

  /**
   * Where a table's current metadata is; empty if there is no such table.
   *
   * @param held whether others that change the table wait until the transaction ends
   */
  Optional<String> find(Connection connection, TableName table, boolean held) throws SQLException;

  /** Enters a new table; false if there is one of that name. */
  boolean enter(Connection connection, TableName table, String metadata) throws SQLException;

  /**
   * Moves a pointer, and waits for others that move it.
   *
   * @return false if it does not point to {@code from} any more
   */
  boolean move(Connection connection, TableName table, String from, String to) throws SQLException;

  /** Removes a table's pointer; false if it does not lead there any more. */
  boolean remove(Connection connection, TableName table, String from) throws SQLException;

  /** The tables of the catalog in the order of their names, with where their metadata is. */
  Map<TableName, String> locations(Connection connection) throws SQLException;
}
