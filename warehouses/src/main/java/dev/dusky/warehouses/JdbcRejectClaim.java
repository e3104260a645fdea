package dev.dusky.warehouses;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.MendOutcome;
import dev.dusky.core.ledger.RejectClaim;
import dev.dusky.core.reject.StoredReject;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.RowWriter;
import dev.dusky.core.tally.Tally;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.Instant;
import java.util.Collection;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;

/** The claim on some rejects of one file: row locks that die with their connection. */
final class JdbcRejectClaim implements RejectClaim {

  private final JdbcWarehouse warehouse;
  private final Connection connection;
  private final JdbcRunningLoad load;
  private final Feed feed;
  private final TableShape table;
  private final StoredReject any;
  private final Set<Long> held = new HashSet<>();

  JdbcRejectClaim(
      JdbcWarehouse warehouse,
      Connection connection,
      JdbcRunningLoad load,
      Feed feed,
      TableShape table,
      StoredReject any) {
    this.warehouse = warehouse;
    this.connection = connection;
    this.load = load;
    this.feed = feed;
    this.table = table;
    this.any = any;
  }

  /**
   * Locks those that are open, of a file that is posted; the file's row is locked too, so that it
   * cannot be reversed meanwhile.
   */
  void take(Collection<Long> rejects) throws SQLException {
    String file =
        "select state from dusky.file where file_id = ? " + warehouse.dialect().claimClause();
    try (PreparedStatement query = connection.prepareStatement(file)) {
      query.setLong(1, any.fileId());
      try (ResultSet row = query.executeQuery()) {
        if (!row.next() || !row.getString(1).equals("posted")) {
          return;
        }
      }
    }
    String sql =
        "select reject_id from dusky.reject where file_id = ? and state = 'open'"
            + " and reject_id = any(?) "
            + warehouse.dialect().claimClause();
    try (PreparedStatement query = connection.prepareStatement(sql)) {
      query.setLong(1, any.fileId());
      query.setArray(2, connection.createArrayOf("bigint", rejects.toArray()));
      try (ResultSet row = query.executeQuery()) {
        while (row.next()) {
          held.add(row.getLong(1));
        }
      }
    }
  }

  @Override
  public Set<Long> held() {
    return Set.copyOf(held);
  }

  @Override
  public RowWriter writer() {
    return warehouse.writer(connection, feed, table, load.id(), any.fileId(), true);
  }

  @Override
  public void settle(MendOutcome outcome) {
    try {
      insertTally(outcome);
      TotalRows.insert(connection, load.id(), any.fileId(), outcome.totals());
      settleMended(outcome);
      for (Map.Entry<Long, MendOutcome.StillWrong> entry : outcome.wrong().entrySet()) {
        renew(entry.getKey(), entry.getValue());
      }
      connection.commit();
    } catch (SQLException e) {
      throw warehouse.failures().of("Mending rejects of " + any.file().path(), e);
    }
  }

  private void insertTally(MendOutcome outcome) throws SQLException {
    Tally tally = outcome.tally();
    String sql =
        "insert into dusky.tally (load_id, file_id, state, read_rows, loaded_rows, duplicate_rows,"
            + " rejected_rows, filtered_rows, withheld_rows, stored_bytes, content_bytes,"
            + " elapsed_ms, written_at) values (?, ?, 'mended', ?, ?, ?, ?, ?, 0, 0, 0, ?, ?)";
    try (PreparedStatement insert = connection.prepareStatement(sql)) {
      insert.setLong(1, load.id());
      insert.setLong(2, any.fileId());
      insert.setLong(3, tally.read());
      insert.setLong(4, tally.loaded());
      insert.setLong(5, tally.duplicate());
      insert.setLong(6, tally.rejected());
      insert.setLong(7, tally.filtered());
      insert.setLong(8, outcome.elapsed().toMillis());
      insert.setTimestamp(9, Timestamp.from(Instant.now()));
      insert.executeUpdate();
    }
    Seal.write(
        connection,
        Seal.TALLY,
        "dusky.tally",
        "load_id = ? and file_id = ?",
        load.id(),
        any.fileId());
  }

  private void settleMended(MendOutcome outcome) throws SQLException {
    String sql =
        "update dusky.reject set state = 'mended', settled_at = ?, settled_by = ?,"
            + " settled_load = ? where reject_id = any(?)";
    try (PreparedStatement update = connection.prepareStatement(sql)) {
      update.setTimestamp(1, Timestamp.from(Instant.now()));
      update.setString(2, load.start().startedBy());
      update.setLong(3, load.id());
      update.setArray(4, connection.createArrayOf("bigint", outcome.mended().toArray()));
      update.executeUpdate();
    }
  }

  private void renew(long reject, MendOutcome.StillWrong wrong) throws SQLException {
    try (PreparedStatement delete =
            connection.prepareStatement("delete from dusky.reject_problem where reject_id = ?");
        PreparedStatement update =
            connection.prepareStatement(
                "update dusky.reject set tried_record = ?, problem_count = ? where reject_id = ?");
        PreparedStatement problems = RejectRows.insertProblems(connection)) {
      delete.setLong(1, reject);
      delete.executeUpdate();
      update.setBytes(1, wrong.tried());
      update.setInt(2, wrong.problems().size());
      update.setLong(3, reject);
      update.executeUpdate();
      RejectRows.addProblems(problems, reject, wrong.problems());
      problems.executeBatch();
    }
  }

  @Override
  public void close() {
    warehouse.undo(connection);
    load.giveBack(connection);
  }
}
