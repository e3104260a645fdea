package dev.dusky.warehouses;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;

/**
 * Counts the rows that a statement of PostgreSQL takes from the scratch table, one by one as it
 * goes. It is a sequence, and sequences are not set back by a rollback: after an error it still
 * tells how far the statement got.
 */
final class StepCounter {

  private static final String NAME = "pg_temp.dusky_step";

  private final Connection connection;

  /** Makes the counter, and an index so that ranges of the scratch table are found quickly. */
  StepCounter(Connection connection) throws SQLException {
    this.connection = connection;
    try (Statement statement = connection.createStatement()) {
      statement.execute("create temporary sequence if not exists dusky_step");
      // Rows must come one by one in their order, not be collected and sorted before each attempt.
      statement.execute("set local enable_sort = off");
      statement.execute("set local enable_bitmapscan = off");
      statement.execute(
          "create index if not exists dusky_scratch_number on %s (%s)"
              .formatted(ScratchTable.NAME, ScratchTable.NUMBER));
    }
  }

  /** Sets it to nothing and gives the condition that counts rows as they pass. */
  String restart() throws SQLException {
    try (Statement statement = connection.createStatement()) {
      statement.execute("select setval('%s', 1, false)".formatted(NAME));
    }
    return " where nextval('%s') > 0".formatted(NAME);
  }

  /** How many rows the last statement took before it failed. */
  long taken() throws SQLException {
    try (Statement statement = connection.createStatement();
        ResultSet row = statement.executeQuery("select last_value, is_called from " + NAME)) {
      row.next();
      return row.getBoolean(2) ? row.getLong(1) : 0;
    }
  }
}
