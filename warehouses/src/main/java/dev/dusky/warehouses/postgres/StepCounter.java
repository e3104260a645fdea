package dev.dusky.warehouses.postgres;

import dev.dusky.warehouses.posting.ScratchTable;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;

/**
 * Counts the rows that a statement of PostgreSQL takes from the scratch table, one by one as it
 * goes. It is a sequence, and sequences are not set back by a rollback: after an error it still
 * shows how far the statement got.
 */
final class StepCounter {

  private static final String NAME = "pg_temp.dusky_step";

  private final Connection connection;
  private long before;

  /** Makes the counter, and an index so that ranges of the scratch table are found quickly. */
  StepCounter(Connection connection) throws SQLException {
    this.connection = connection;
    try (Statement statement = connection.createStatement()) {
      statement.execute("drop sequence if exists " + NAME);
      statement.execute("create temporary sequence dusky_step");
      // Rows must come one by one in their order, not be collected and sorted before each attempt.
      statement.execute("set local enable_sort = off");
      statement.execute("set local enable_bitmapscan = off");
      statement.execute(
          "create index if not exists dusky_scratch_number on %s (%s)"
              .formatted(ScratchTable.NAME, ScratchTable.NUMBER));
    }
  }

  /** The condition that counts rows as they pass. */
  String condition() {
    return " where nextval('%s') > 0".formatted(NAME);
  }

  /** Notes that a statement completed with that many rows. */
  void passed(long rows) {
    before += rows;
  }

  /** How many rows the last statement took before it failed. */
  long taken() throws SQLException {
    try (Statement statement = connection.createStatement();
        ResultSet row = statement.executeQuery("select last_value, is_called from " + NAME)) {
      row.next();
      long now = row.getBoolean(2) ? row.getLong(1) : 0;
      long taken = now - before;
      before = now;
      return taken;
    }
  }
}
