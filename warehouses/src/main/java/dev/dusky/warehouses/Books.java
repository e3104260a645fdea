package dev.dusky.warehouses;

import dev.dusky.core.merge.MergeTally;
import dev.dusky.core.tally.Tally;
import dev.dusky.warehouses.BookChecks.RejectCounts;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
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

  /** One run of a merge. */
  public record MergeLine(
      long mergeId,
      String merge,
      String source,
      String into,
      String existing,
      String state,
      boolean retry,
      Instant started,
      Optional<Instant> ended,
      String by,
      MergeTally tally,
      long files,
      String message) {}

  /**
   * What entries of the journal to show; each part chooses all if it is empty.
   *
   * @param name a feed or a merge
   * @param table a landing table or a target
   * @param day the day on which they started, in UTC
   * @param state how they ended
   * @param file the path of a file that they dealt with
   */
  public record Choice(
      Optional<String> name,
      Optional<String> table,
      Optional<LocalDate> day,
      Optional<String> state,
      Optional<String> file) {

    /** The entries of a feed or a merge. */
    public static Choice of(String name) {
      return new Choice(Optional.of(name), ALL.table, ALL.day, ALL.state, ALL.file);
    }

    /** All entries. */
    public static final Choice ALL =
        new Choice(
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty());
  }

  private final JdbcWarehouse warehouse;

  Books(JdbcWarehouse warehouse) {
    this.warehouse = warehouse;
  }

  /** The newest runs of merges, newest first. */
  public List<MergeLine> merges(Choice choice, int most) {
    String sql =
        """
        select r.merge_id, r.merge_name, r.source, r.into_table, r.existing, r.state, r.retry,
               r.started_at, r.ended_at, r.started_by, r.landed_rows, r.inserted_rows,
               r.updated_rows, r.unchanged_rows, r.superseded_rows, r.deleted_rows,
               r.rejected_rows, r.missing_rows, r.message,
               (select count(distinct f.file_id) from dusky.merge_file f
                where f.merge_id = r.merge_id)
        from dusky.merge_run r
        where (? = '' or r.merge_name = ?) and (? = '' or r.into_table = ? or r.source = ?)
          and (? = '' or r.state = ?) and r.started_at >= ? and r.started_at < ?
          and (? = '' or exists (select 1 from dusky.merge_file m
            join dusky.file f on f.file_id = m.file_id
            where m.merge_id = r.merge_id and f.path = ?))
        order by r.merge_id desc fetch first %d rows only"""
            .formatted(most);
    return list(
        "Reading the journal",
        sql,
        query -> {
          int at = texts(query, 1, choice.name(), 2);
          at = texts(query, at, choice.table(), 3);
          at = texts(query, at, choice.state(), 2);
          at = day(query, at, choice.day());
          texts(query, at, choice.file(), 2);
        },
        row ->
            new MergeLine(
                row.getLong(1),
                row.getString(2),
                row.getString(3),
                row.getString(4),
                row.getString(5),
                row.getString(6),
                row.getBoolean(7),
                row.getTimestamp(8).toInstant(),
                Optional.ofNullable(row.getTimestamp(9)).map(Timestamp::toInstant),
                row.getString(10),
                new MergeTally(
                    row.getLong(11),
                    row.getLong(12),
                    row.getLong(13),
                    row.getLong(14),
                    row.getLong(15),
                    row.getLong(16),
                    row.getLong(17),
                    row.getLong(18)),
                row.getLong(20),
                text(row, 19)));
  }

  private static int texts(PreparedStatement query, int from, Optional<String> text, int times)
      throws SQLException {
    for (int i = 0; i < times; i++) {
      query.setString(from + i, text.orElse(""));
    }
    return from + times;
  }

  private static int day(PreparedStatement query, int from, Optional<LocalDate> day)
      throws SQLException {
    Instant first = day.map(d -> d.atStartOfDay(ZoneOffset.UTC).toInstant()).orElse(Instant.EPOCH);
    Instant next =
        day.map(d -> d.plusDays(1).atStartOfDay(ZoneOffset.UTC).toInstant())
            .orElse(Instant.parse("9000-01-01T00:00:00Z"));
    query.setTimestamp(from, Timestamp.from(first));
    query.setTimestamp(from + 1, Timestamp.from(next));
    return from + 2;
  }

  /** Rejects of a merge by reason, with how many are still open. */
  public List<MergeRejects> mergeRejects(long mergeId) {
    return list(
        "Reading the rejects of merge " + mergeId,
        "select code, column_name, count(*), count(case when state = 'open' then 1 end),"
            + " min(key_text) from dusky.merge_reject where merge_id = ?"
            + " group by code, column_name order by code, column_name",
        query -> query.setLong(1, mergeId),
        row ->
            new MergeRejects(
                row.getString(1),
                row.getString(2),
                row.getLong(3),
                row.getLong(4),
                row.getString(5)));
  }

  /** Rejects of a merge that have the same reason; {@code key} is one of their keys. */
  public record MergeRejects(String code, String column, long rows, long open, String key) {}

  /** The files whose rows a merge took. */
  public List<TallyLine> mergedFiles(long mergeId) {
    return list(
        "Reading the journal",
        "select m.load_id, f.path, m.landed_rows, f.size_bytes from dusky.merge_file m"
            + " join dusky.file f on f.file_id = m.file_id where m.merge_id = ?"
            + " order by f.path, m.load_id",
        query -> query.setLong(1, mergeId),
        row ->
            new TallyLine(
                row.getLong(1),
                row.getString(2),
                "merged",
                Tally.posted(row.getLong(3), row.getLong(3), 0, 0),
                row.getLong(4),
                Duration.ZERO,
                "",
                new RejectCounts(0, 0, 0)));
  }

  /** The newest loads, newest first. */
  public List<LoadLine> loads(Choice choice, int most) {
    String sql =
        """
        select load_id, feed, into_table, state, started_at, ended_at, started_by, posted_files,
               twin_files, refused_files, revised_files, read_rows, loaded_rows, duplicate_rows,
               rejected_rows, filtered_rows, stored_bytes, content_bytes, message, kind,
               mended_files, reversed_files
        from dusky.load_total l
        where (? = '' or feed = ?) and (? = '' or into_table = ?) and (? = '' or state = ?)
          and started_at >= ? and started_at < ?
          and (? = '' or exists (select 1 from dusky.tally t
            join dusky.file f on f.file_id = t.file_id
            where t.load_id = l.load_id and f.path = ?))
        order by load_id desc fetch first %d rows only"""
            .formatted(most);
    return list(
        "Reading the journal",
        sql,
        query -> {
          int at = texts(query, 1, choice.name(), 2);
          at = texts(query, at, choice.table(), 2);
          at = texts(query, at, choice.state(), 2);
          at = day(query, at, choice.day());
          texts(query, at, choice.file(), 2);
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
