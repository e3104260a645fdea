package dev.dusky.warehouses.ledger;

import dev.dusky.core.tally.ControlTotal;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.List;

/** Writes the control totals of a file. */
final class TotalRows {

  private TotalRows() {}

  static void insert(Connection connection, long load, long file, List<ControlTotal> totals)
      throws SQLException {
    if (totals.isEmpty()) {
      return;
    }
    try (PreparedStatement insert =
        connection.prepareStatement(
            "insert into dusky.control_total (load_id, file_id, column_name, loaded_total,"
                + " other_total, expected_total, duplicate_total) values (?, ?, ?, ?, ?, ?, ?)")) {
      for (ControlTotal total : totals) {
        insert.setLong(1, load);
        insert.setLong(2, file);
        insert.setString(3, total.column());
        insert.setBigDecimal(4, total.loaded());
        insert.setBigDecimal(5, total.others());
        insert.setBigDecimal(6, total.expected().orElse(null));
        insert.setBigDecimal(7, total.duplicate());
        insert.addBatch();
      }
      insert.executeBatch();
    }
  }
}
