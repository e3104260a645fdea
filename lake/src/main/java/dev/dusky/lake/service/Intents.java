package dev.dusky.lake.service;

import dev.dusky.core.table.TableName;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** The intents in the ledger, and the rows by which those who change one table wait in turn. */
final class Intents {

  private Intents() {}

  /** Enters one, to be seen by all after the commit. */
  static void enter(Connection connection, Intent intent) throws SQLException {
    try (PreparedStatement insert =
        connection.prepareStatement(
            "insert into dusky.intent (token, table_schema, table_name, base_state, given_up,"
                + " made_at) values (?, ?, ?, ?, false, ?)")) {
      insert.setString(1, intent.token());
      insert.setString(2, intent.table().schema());
      insert.setString(3, intent.table().table());
      insert.setLong(4, intent.base());
      insert.setTimestamp(5, Timestamp.from(Instant.now()));
      insert.executeUpdate();
    }
  }

  /** Gives one another base; false if it is gone or given up. */
  static boolean rebase(Connection connection, Intent intent) throws SQLException {
    try (PreparedStatement update =
        connection.prepareStatement(
            "update dusky.intent set base_state = ? where token = ? and not given_up")) {
      update.setLong(1, intent.base());
      update.setString(2, intent.token());
      return update.executeUpdate() == 1;
    }
  }

  /**
   * Holds one until the connection's transaction ends, as it is now; empty if it is gone.
   *
   * @param givenUp whether one that was given up is wanted, or one that was not
   */
  static Optional<Intent> hold(Connection connection, Intent intent, boolean givenUp)
      throws SQLException {
    try (PreparedStatement select =
        connection.prepareStatement(
            "select base_state from dusky.intent where token = ? and given_up = ? for update")) {
      select.setString(1, intent.token());
      select.setBoolean(2, givenUp);
      try (ResultSet row = select.executeQuery()) {
        return row.next()
            ? Optional.of(new Intent(intent.token(), intent.table(), row.getLong(1)))
            : Optional.empty();
      }
    }
  }

  /**
   * Gives one up, unless its process holds it or has committed; after the transaction's commit that
   * process cannot come to commit any more.
   */
  static void giveUp(Connection connection, Intent intent) throws SQLException {
    try (PreparedStatement update =
        connection.prepareStatement("update dusky.intent set given_up = true where token = ?")) {
      update.setString(1, intent.token());
      update.executeUpdate();
    }
  }

  /** Removes one that is not given up; false if it is gone. */
  static boolean complete(Connection connection, String token) throws SQLException {
    return delete(connection, token, " and not given_up");
  }

  /** Removes one that was given up. */
  static void remove(Connection connection, String token) throws SQLException {
    delete(connection, token, "");
  }

  private static boolean delete(Connection connection, String token, String only)
      throws SQLException {
    try (PreparedStatement delete =
        connection.prepareStatement("delete from dusky.intent where token = ?" + only)) {
      delete.setString(1, token);
      return delete.executeUpdate() == 1;
    }
  }

  /** Those of a table, the first made first. */
  static List<Intent> of(Connection connection, TableName table) throws SQLException {
    try (PreparedStatement select =
        connection.prepareStatement(
            "select token, base_state from dusky.intent where table_schema = ? and table_name = ?"
                + " order by made_at")) {
      select.setString(1, table.schema());
      select.setString(2, table.table());
      List<Intent> intents = new ArrayList<>();
      try (ResultSet row = select.executeQuery()) {
        while (row.next()) {
          intents.add(new Intent(row.getString(1), table, row.getLong(2)));
        }
      }
      return intents;
    }
  }

  /** Makes the row by which those who change a table wait for each other, unless it exists. */
  static void turn(Connection connection, TableName table) throws SQLException {
    try (PreparedStatement insert =
        connection.prepareStatement(
            "insert into dusky.lake_table (table_schema, table_name) select ?, ? where not exists"
                + " (select 1 from dusky.lake_table where table_schema = ? and table_name = ?)")) {
      for (int i = 0; i < 4; i += 2) {
        insert.setString(i + 1, table.schema());
        insert.setString(i + 2, table.table());
      }
      insert.executeUpdate();
    }
  }

  /** Waits for others who change the table; those who come later wait for this transaction. */
  static void take(Connection connection, TableName table) throws SQLException {
    try (PreparedStatement select =
        connection.prepareStatement(
            "select 1 from dusky.lake_table where table_schema = ? and table_name = ?"
                + " for update")) {
      select.setString(1, table.schema());
      select.setString(2, table.table());
      select.executeQuery().close();
    }
  }
}
