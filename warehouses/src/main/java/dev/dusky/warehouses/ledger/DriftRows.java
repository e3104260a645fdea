package dev.dusky.warehouses.ledger;

import dev.dusky.core.drift.Drift;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/** The drifts of a file in {@code dusky.drift}. */
final class DriftRows {

  private DriftRows() {}

  /** Enters them, in the transaction that settles the file. */
  static void insert(Connection connection, long loadId, long fileId, List<Drift> drifts)
      throws SQLException {
    if (drifts.isEmpty()) {
      return;
    }
    Set<String> entered = new HashSet<>();
    try (PreparedStatement insert =
        connection.prepareStatement(
            "insert into dusky.drift (load_id, file_id, field, change, seen, action, record_count,"
                + " example, statement, remark) values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)")) {
      for (Drift drift : drifts) {
        String field = LedgerText.fit(drift.field(), 1000);
        if (entered.add(field + '\n' + drift.change() + drift.action())) {
          insert.setLong(1, loadId);
          insert.setLong(2, fileId);
          insert.setString(3, field);
          insert.setString(4, drift.change().label());
          insert.setString(5, drift.seen());
          insert.setString(6, drift.action().label());
          insert.setLong(7, drift.records());
          insert.setString(8, LedgerText.fit(drift.example(), 1000));
          insert.setString(9, drift.statement().map(s -> LedgerText.fit(s, 4000)).orElse(null));
          insert.setString(10, LedgerText.fit(drift.remark(), 1000));
          insert.addBatch();
        }
      }
      insert.executeBatch();
    }
  }
}
