package dev.dusky.warehouses;

import dev.dusky.core.tally.Tally;
import java.sql.Connection;
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
      String message) {}

  /** Open problems of one feed, column and code. */
  public record RejectGroup(
      String feed,
      String column,
      String code,
      long count,
      long files,
      long rowsRead,
      String firstPath,
      long firstLine,
      String firstPlace,
      String message,
      List<String> examples) {}

  /** One problem of one reject. */
  public record RejectLine(
      long rejectId,
      String feed,
      String path,
      long recordNumber,
      long line,
      String place,
      long byteOffset,
      String state,
      String fileState,
      String code,
      String column,
      String value,
      String message,
      byte[] raw) {}

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
               rejected_rows, filtered_rows, stored_bytes, content_bytes, message
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
               t.message
        from dusky.tally t join dusky.file f on f.file_id = t.file_id
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
                text(row, 12)));
  }

  /** Open rejects by feed, column and code, most first. */
  public List<RejectGroup> rejectGroups(Optional<String> feed) {
    String sql =
        """
        with grouped as (
          select feed, column_name, code, count(*) as problems, count(distinct file_id) as files,
                 min(reject_id) as first_reject
          from dusky.reject_detail
          where state = 'open' and (? = '' or feed = ?)
          group by feed, column_name, code),
        extent as (
          select d.feed, d.column_name, d.code, sum(t.read_rows) as read_rows
          from (select distinct feed, column_name, code, load_id, file_id
                from dusky.reject_detail where state = 'open') d
          join dusky.tally t on t.load_id = d.load_id and t.file_id = d.file_id
          group by d.feed, d.column_name, d.code)
        select g.feed, g.column_name, g.code, g.problems, g.files, e.read_rows, d.path,
               d.line_number, d.message, d.place
        from grouped g
        join extent e on e.feed = g.feed and e.column_name = g.column_name and e.code = g.code
        join dusky.reject_detail d on d.reject_id = g.first_reject
          and d.column_name = g.column_name and d.code = g.code
        order by g.feed, g.problems desc, g.column_name, g.code""";
    return warehouse.transact(
        "Reading the rejects",
        c -> {
          List<RejectGroup> groups = new ArrayList<>();
          try (PreparedStatement query = c.prepareStatement(sql)) {
            query.setString(1, feed.orElse(""));
            query.setString(2, feed.orElse(""));
            try (ResultSet row = query.executeQuery()) {
              while (row.next()) {
                groups.add(group(c, row));
              }
            }
          }
          return groups;
        });
  }

  private static RejectGroup group(Connection c, ResultSet row) throws SQLException {
    String feed = row.getString(1);
    String column = row.getString(2);
    String code = row.getString(3);
    return new RejectGroup(
        feed,
        column,
        code,
        row.getLong(4),
        row.getLong(5),
        row.getLong(6),
        row.getString(7),
        row.getLong(8),
        row.getString(10) == null ? ":" + row.getLong(8) : ", " + row.getString(10),
        row.getString(9),
        examples(c, feed, column, code));
  }

  private static List<String> examples(Connection c, String feed, String column, String code)
      throws SQLException {
    String sql =
        """
        select raw_value, min(reject_id) from dusky.reject_detail
        where state = 'open' and feed = ? and column_name = ? and code = ?
        group by raw_value order by 2 fetch first 3 rows only""";
    try (PreparedStatement query = c.prepareStatement(sql)) {
      query.setString(1, feed);
      query.setString(2, column);
      query.setString(3, code);
      List<String> values = new ArrayList<>();
      try (ResultSet row = query.executeQuery()) {
        while (row.next()) {
          values.add(row.getString(1));
        }
      }
      return values;
    }
  }

  /** Open rejects one by one, each problem a line, in the order of files and records. */
  public List<RejectLine> rejects(Optional<String> feed, int most) {
    String sql =
        """
        select reject_id, feed, path, record_number, line_number, byte_offset, state, file_state,
               code, column_name, raw_value, message, raw_record, place
        from dusky.reject_detail
        where state = 'open' and (? = '' or feed = ?)
        order by feed, path, record_number, problem fetch first %d rows only"""
            .formatted(most);
    return list(
        "Reading the rejects",
        sql,
        query -> {
          query.setString(1, feed.orElse(""));
          query.setString(2, feed.orElse(""));
        },
        row ->
            new RejectLine(
                row.getLong(1),
                row.getString(2),
                row.getString(3),
                row.getLong(4),
                row.getLong(5),
                row.getString(14) == null ? ":" + row.getLong(5) : ", " + row.getString(14),
                row.getLong(6),
                row.getString(7),
                row.getString(8),
                row.getString(9),
                row.getString(10),
                row.getString(11),
                row.getString(12),
                row.getBytes(13)));
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
