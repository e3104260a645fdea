package dev.dusky.warehouses.ledger;

import dev.dusky.core.ledger.FileOutcome;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

/** Writes down which rows of a file were left out as repeats, and of which rows. */
final class RepeatRows {

  private static final int BATCH = 1000;

  private RepeatRows() {}

  static void insert(Connection connection, long load, long file, FileOutcome.Repeats repeats)
      throws SQLException {
    if (repeats.left() == null) {
      return;
    }
    try (PreparedStatement insert =
        connection.prepareStatement("insert into dusky.repeat values (?, ?, ?, ?, ?, ?)")) {
      List<SQLException> failures = new ArrayList<>();
      int[] waiting = {0};
      repeats
          .left()
          .forEach(
              (first, count, keptFile, keptRecord) -> {
                if (!failures.isEmpty()) {
                  return;
                }
                try {
                  insert.setLong(1, load);
                  insert.setLong(2, file);
                  insert.setLong(3, first);
                  insert.setLong(4, count);
                  insert.setLong(5, repeats.files().get(keptFile));
                  insert.setLong(6, keptRecord);
                  insert.addBatch();
                  if (++waiting[0] % BATCH == 0) {
                    insert.executeBatch();
                  }
                } catch (SQLException e) {
                  failures.add(e);
                }
              });
      if (!failures.isEmpty()) {
        throw failures.get(0);
      }
      insert.executeBatch();
    }
  }
}
