package dev.dusky.warehouses;

import dev.dusky.core.depot.ArchiveDepot;
import dev.dusky.core.feed.Afterwards;
import dev.dusky.core.ledger.DueFile;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/**
 * Posted files that are still to be moved or removed. What is due is entered together with the
 * post, so that a process that dies in between leaves it to the next one.
 */
final class DueRows {

  private final JdbcWarehouse warehouse;

  DueRows(JdbcWarehouse warehouse) {
    this.warehouse = warehouse;
  }

  /** Enters what is due about a file, in the transaction that posts it. */
  static void enter(Connection connection, long fileId, String path, Afterwards afterwards)
      throws SQLException {
    if (afterwards instanceof Afterwards.Leave || ArchiveDepot.isMember(path)) {
      return;
    }
    String target = null;
    if (afterwards instanceof Afterwards.Archive archive) {
      target = archive.target(path);
    }
    try (PreparedStatement delete =
            connection.prepareStatement("delete from dusky.afterwards where file_id = ?");
        PreparedStatement insert =
            connection.prepareStatement(
                "insert into dusky.afterwards (file_id, target, due_at) values (?, ?, ?)")) {
      delete.setLong(1, fileId);
      delete.executeUpdate();
      insert.setLong(1, fileId);
      insert.setString(2, target);
      insert.setTimestamp(3, Timestamp.from(Instant.now()));
      insert.executeUpdate();
    }
  }

  List<DueFile> of(String feed) {
    String sql =
        "select f.file_id, f.path, f.version, a.target from dusky.afterwards a"
            + " join dusky.file f on f.file_id = a.file_id"
            + " where f.feed = ? and a.done_at is null order by f.file_id";
    return warehouse.transact(
        "Looking for files to be moved",
        c -> {
          List<DueFile> due = new ArrayList<>();
          try (PreparedStatement query = c.prepareStatement(sql)) {
            query.setString(1, feed);
            try (ResultSet row = query.executeQuery()) {
              while (row.next()) {
                due.add(
                    new DueFile(
                        row.getLong(1),
                        row.getString(2),
                        row.getString(3),
                        Optional.ofNullable(row.getString(4))));
              }
            }
          }
          return due;
        });
  }

  /** On a connection of its own, since moving files may take long. */
  void settle(List<DueFile> files, Function<DueFile, Optional<DueFile>> work) {
    if (files.isEmpty()) {
      return;
    }
    Connection own = warehouse.connect();
    try {
      for (DueFile file : files) {
        Optional<DueFile> done = lock(own, file) ? work.apply(file) : Optional.empty();
        if (done.isPresent()) {
          mark(own, done.get());
        }
        own.commit();
      }
    } catch (SQLException e) {
      throw warehouse.failed(own, "Noting what became of posted files", e);
    } finally {
      warehouse.release(own);
    }
  }

  /** False if somebody else is at it or has done it. */
  private boolean lock(Connection own, DueFile file) throws SQLException {
    try (PreparedStatement query =
        own.prepareStatement(
            "select 1 from dusky.afterwards where file_id = ? and done_at is null "
                + warehouse.dialect().claimClause())) {
      query.setLong(1, file.fileId());
      try (ResultSet row = query.executeQuery()) {
        return row.next();
      }
    }
  }

  private static void mark(Connection own, DueFile file) throws SQLException {
    try (PreparedStatement update =
        own.prepareStatement(
            "update dusky.afterwards set done_at = ?, target = ? where file_id = ?")) {
      update.setTimestamp(1, Timestamp.from(Instant.now()));
      update.setString(2, file.target().orElse(null));
      update.setLong(3, file.fileId());
      update.executeUpdate();
    }
  }
}
