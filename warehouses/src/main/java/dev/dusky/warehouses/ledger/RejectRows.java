package dev.dusky.warehouses.ledger;

import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.reject.RejectState;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;

/** Writes a file's rejects, page by page. */
final class RejectRows {

  private static final int AT_ONCE = 500;

  private final Connection connection;
  private final long load;
  private final long file;
  private final List<Reject> page = new ArrayList<>(AT_ONCE);
  private SQLException failure;

  private RejectRows(Connection connection, long load, long file) {
    this.connection = connection;
    this.load = load;
    this.file = file;
  }

  /** The open rejects of an earlier, refused attempt at a file give way to those of this one. */
  static void replace(Connection connection, long load, long file, RejectSpool rejects)
      throws SQLException {
    try (PreparedStatement delete =
        connection.prepareStatement(
            "delete from dusky.reject where file_id = ? and state = 'open'")) {
      delete.setLong(1, file);
      delete.executeUpdate();
    }
    if (rejects.count() == 0) {
      return;
    }
    RejectRows rows = new RejectRows(connection, load, file);
    rejects.forEach(rows::add);
    rows.flush();
    if (rows.failure != null) {
      throw rows.failure;
    }
  }

  private void add(Reject reject) {
    page.add(reject);
    if (page.size() == AT_ONCE) {
      flush();
    }
  }

  private void flush() {
    if (page.isEmpty() || failure != null) {
      return;
    }
    String rejectSql =
        "insert into dusky.reject (load_id, file_id, record_number, line_number, byte_offset,"
            + " raw_record, raw_cut, state, recorded_at, place, piece, context, problem_count)"
            + " values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)";
    try (PreparedStatement insert =
            connection.prepareStatement(rejectSql, new String[] {"reject_id"});
        PreparedStatement problems = insertProblems(connection)) {
      Timestamp now = Timestamp.from(Instant.now());
      for (Reject reject : page) {
        insert.setLong(1, load);
        insert.setLong(2, file);
        insert.setLong(3, reject.recordNumber());
        insert.setLong(4, reject.line());
        insert.setLong(5, reject.byteOffset());
        insert.setBytes(6, reject.raw());
        insert.setBoolean(7, reject.rawCut());
        insert.setString(8, RejectState.OPEN.label());
        insert.setTimestamp(9, now);
        insert.setString(10, reject.place().isEmpty() ? null : LedgerText.fit(reject.place(), 400));
        insert.setInt(11, reject.piece());
        insert.setBytes(12, reject.context().length == 0 ? null : reject.context());
        insert.setInt(13, reject.problems().size());
        insert.addBatch();
      }
      insert.executeBatch();
      try (ResultSet keys = insert.getGeneratedKeys()) {
        for (Reject reject : page) {
          keys.next();
          addProblems(problems, keys.getLong(1), reject.problems());
        }
      }
      problems.executeBatch();
    } catch (SQLException e) {
      failure = e;
    }
    page.clear();
  }

  /** The statement that {@link #addProblems} fills. */
  static PreparedStatement insertProblems(Connection connection) throws SQLException {
    return connection.prepareStatement(
        "insert into dusky.reject_problem values (?, ?, ?, ?, ?, ?)");
  }

  /** Adds a reject's problems to a batch. */
  static void addProblems(PreparedStatement insert, long reject, List<Problem> problems)
      throws SQLException {
    int number = 1;
    for (Problem problem : problems) {
      insert.setLong(1, reject);
      insert.setInt(2, number++);
      insert.setString(3, problem.code().label());
      insert.setString(4, problem.column());
      insert.setString(5, LedgerText.fit(problem.value(), 1000));
      insert.setString(6, LedgerText.fit(problem.message(), 1000));
      insert.addBatch();
    }
  }
}
