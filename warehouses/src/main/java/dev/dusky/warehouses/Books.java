package dev.dusky.warehouses;

import dev.dusky.core.tally.Tally;
import dev.dusky.warehouses.BookChecks.RejectCounts;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** The ledger as commands read it. */
public final class Books {

  /** A load with its totals; {@code tally} leaves refused files out. */
  public record LoadLine(
      long loadId,
      String kind,
      String feed,
      String into,
      String state,
      Instant started,
      Optional<Instant> ended,
      String by,
      long posted,
      long twins,
      long refused,
      long revised,
      long mended,
      long reversed,
      Tally tally,
      long storedBytes,
      long contentBytes,
      String message) {}

  /** What one load did with one file. */
  public record TallyLine(
      long loadId,
      String path,
      String state,
      Tally tally,
      long storedBytes,
      Duration elapsed,
      String message,
      RejectCounts rejects) {}

  private final JdbcWarehouse warehouse;

  Books(JdbcWarehouse warehouse) {
    this.warehouse = warehouse;
  }

  /** The newest loads, of one feed or of all, newest first. */
  public List<LoadLine> loads(Optional<String> feed, int most) {
    String sql =
        """
        select load_id, feed, into_table, state, started_at, ended_at, started_by, posted_files,
               twin_files, refused_files, revised_files, read_rows, loaded_rows, duplicate_rows,
               rejected_rows, filtered_rows, stored_bytes, content_bytes, message, kind,
               mended_files, reversed_files
        from dusky.load_total where ? = '' or feed = ?
        order by load_id desc fetch first %d rows only"""
            .formatted(most);
    return list(
        "Reading the journal",
        sql,
        query -> {
          query.setString(1, feed.orElse(""));
          query.setString(2, feed.orElse(""));
        },
        row ->
            new LoadLine(
                row.getLong(1),
                row.getString(20),
                row.getString(2),
                row.getString(3),
                row.getString(4),
                row.getTimestamp(5).toInstant(),
                Optional.ofNullable(row.getTimestamp(6)).map(Timestamp::toInstant),
                row.getString(7),
                row.getLong(8),
                row.getLong(9),
                row.getLong(10),
                row.getLong(11),
                row.getLong(21),
                row.getLong(22),
                tally(row, 12),
                row.getLong(17),
                row.getLong(18),
                text(row, 19)));
  }

  private static Tally tally(ResultSet row, int from) throws SQLException {
    return new Tally(
        row.getLong(from),
        row.getLong(from + 1),
        row.getLong(from + 2),
        row.getLong(from + 3),
        row.getLong(from + 4),
        0);
  }

  private static String text(ResultSet row, int column) throws SQLException {
    String value = row.getString(column);
    return value == null ? "" : value;
  }

  /** What a load did with each of its files, in their order. */
  public List<TallyLine> files(long loadId) {
    String sql =
        """
        select t.load_id, f.path, t.state, t.read_rows, t.loaded_rows, t.duplicate_rows,
               t.rejected_rows, t.filtered_rows, t.withheld_rows, t.stored_bytes, t.elapsed_ms,
               t.message, s.open_rejects, s.mended_rejects, s.waived_rejects
        from dusky.tally t join dusky.file f on f.file_id = t.file_id
        left join dusky.reject_state s on s.load_id = t.load_id and s.file_id = t.file_id
        where t.load_id = ? order by f.path, f.file_id""";
    return list(
        "Reading the journal",
        sql,
        query -> query.setLong(1, loadId),
        row ->
            new TallyLine(
                row.getLong(1),
                row.getString(2),
                row.getString(3),
                new Tally(
                    row.getLong(4),
                    row.getLong(5),
                    row.getLong(6),
                    row.getLong(7),
                    row.getLong(8),
                    row.getLong(9)),
                row.getLong(10),
                Duration.ofMillis(row.getLong(11)),
                text(row, 12),
                new RejectCounts(row.getLong(13), row.getLong(14), row.getLong(15))));
  }

  @FunctionalInterface
  private interface Parameters {
    void set(PreparedStatement query) throws SQLException;
  }

  @FunctionalInterface
  private interface RowOf<T> {
    T read(ResultSet row) throws SQLException;
  }

  private <T> List<T> list(String doing, String sql, Parameters parameters, RowOf<T> rowOf) {
    return warehouse.transact(
        doing,
        c -> {
          List<T> result = new ArrayList<>();
          try (PreparedStatement query = c.prepareStatement(sql)) {
            parameters.set(query);
            try (ResultSet row = query.executeQuery()) {
              while (row.next()) {
                result.add(rowOf.read(row));
              }
            }
          }
          return result;
        });
  }
}
