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

/** The intents in the ledger, and the rows by which those who change one table wait in turn. */
final class Intents {

  private Intents() {}

  /** Enters one, to be seen by all after the commit. */
  static void enter(Connection connection, Intent intent) throws SQLException {
    try (PreparedStatement insert =
        connection.prepareStatement(
            "insert into dusky.intent (token, table_schema, table_name, made_at)"
                + " values (?, ?, ?, ?)")) {
      insert.setString(1, intent.token());
      insert.setString(2, intent.table().schema());
      insert.setString(3, intent.table().table());
      insert.setTimestamp(4, Timestamp.from(Instant.now()));
      insert.executeUpdate();
    }
    try (PreparedStatement insert =
        connection.prepareStatement(
            "insert into dusky.intent_state (token, base_state, given_up) values (?, ?, false)")) {
      insert.setString(1, intent.token());
      insert.setLong(2, intent.base());
      insert.executeUpdate();
    }
  }

  /** Those of a table, the first made first, as tokens. */
  static List<String> of(Connection connection, TableName table) throws SQLException {
    try (PreparedStatement select =
        connection.prepareStatement(
            "select token from dusky.intent where table_schema = ? and table_name = ?"
                + " order by made_at")) {
      select.setString(1, table.schema());
      select.setString(2, table.table());
      List<String> tokens = new ArrayList<>();
      try (ResultSet row = select.executeQuery()) {
        while (row.next()) {
          tokens.add(row.getString(1));
        }
      }
      return tokens;
    }
  }

  /**
   * Holds one until the connection's transaction ends: a process does so while it lives, and those
   * that wait for it take it for dead once they hold it.
   *
   * @return false if it is gone
   */
  static boolean hold(Connection connection, String token) throws SQLException {
    return one(connection, "select token from dusky.intent where token = ? for update", token);
  }

  /** Gives one another base; false if it was given up. */
  static boolean rebase(Connection connection, Intent intent) throws SQLException {
    try (PreparedStatement update =
        connection.prepareStatement(
            "update dusky.intent_state set base_state = ? where token = ? and not given_up")) {
      update.setLong(1, intent.base());
      update.setString(2, intent.token());
      return update.executeUpdate() == 1;
    }
  }

  /**
   * Completes one in the ledger's transaction, unless it was given up. Until that transaction ends
   * nobody can give it up.
   */
  static boolean complete(Connection connection, String token) throws SQLException {
    return changed(
        connection, "delete from dusky.intent_state where token = ? and not given_up", token);
  }

  /**
   * Gives one up, so that its process cannot complete it after this transaction's commit.
   *
   * @return false if it was completed
   */
  static boolean giveUp(Connection connection, String token) throws SQLException {
    return changed(
        connection, "update dusky.intent_state set given_up = true where token = ?", token);
  }

  /** One that was given up, with the base that it had last. */
  static Intent givenUp(Connection connection, String token, TableName table) throws SQLException {
    try (PreparedStatement select =
        connection.prepareStatement("select base_state from dusky.intent_state where token = ?")) {
      select.setString(1, token);
      try (ResultSet row = select.executeQuery()) {
        row.next();
        return new Intent(token, table, row.getLong(1));
      }
    }
  }

  /** Removes one that is settled. */
  static void remove(Connection connection, String token) throws SQLException {
    changed(connection, "delete from dusky.intent_state where token = ?", token);
    changed(connection, "delete from dusky.intent where token = ?", token);
  }

  private static boolean changed(Connection connection, String sql, String token)
      throws SQLException {
    try (PreparedStatement change = connection.prepareStatement(sql)) {
      change.setString(1, token);
      return change.executeUpdate() == 1;
    }
  }

  private static boolean one(Connection connection, String sql, String token) throws SQLException {
    try (PreparedStatement select = connection.prepareStatement(sql)) {
      select.setString(1, token);
      try (ResultSet row = select.executeQuery()) {
        return row.next();
      }
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
