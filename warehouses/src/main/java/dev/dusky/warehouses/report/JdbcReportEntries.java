package dev.dusky.warehouses.report;

import dev.dusky.core.report.FileSum;
import dev.dusky.core.report.RejectSum;
import dev.dusky.core.report.ReportEntries;
import dev.dusky.core.report.Settled;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.usage.Request;
import dev.dusky.core.usage.Usage;
import dev.dusky.core.usage.UsageLine;
import dev.dusky.warehouses.connection.Database;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jdbi.v3.core.mapper.RowMapper;
import org.jdbi.v3.core.statement.Query;

/** The figures in the ledger's tables. */
public final class JdbcReportEntries implements ReportEntries {

  private static final String POSTED = "t.state in ('posted', 'mended')";

  private static final String SLOT =
      "cast(floor(extract(epoch from t.written_at) / %d) as bigint)".formatted(Settled.SECONDS);

  private static final String SETTLED =
      """
      select f.feed, %s as slot,
             count(case when t.state = 'posted' then 1 end) as files,
             count(case when t.state = 'refused' then 1 end) as refused,
             count(case when t.state = 'twin' then 1 end) as twins,
             %s,
             coalesce(sum(case when t.state = 'reversed' then -t.loaded_rows end), 0) as reversed
      from dusky.tally t join dusky.file f on f.file_id = t.file_id
      where f.feed = any(:feeds) and t.written_at >= :since and t.written_at < :until
      group by f.feed, %s order by 1, 2"""
          .formatted(
              SLOT,
              String.join(
                  ",\n       ",
                  sum("read_rows"),
                  sum("loaded_rows"),
                  sum("duplicate_rows"),
                  sum("rejected_rows"),
                  sum("filtered_rows"),
                  sum("stored_bytes"),
                  sum("elapsed_ms")),
              SLOT);

  private static final String REJECTS =
      """
      select g.*, p.raw_value, p.message from (
        select f.feed, p.column_name, p.code,
               count(case when r.state = 'open' then 1 end) as open_rejects,
               count(case when r.state = 'mended' then 1 end) as mended_rejects,
               count(case when r.state = 'waived' then 1 end) as waived_rejects,
               min(case when r.state = 'open' then r.recorded_at end) as oldest,
               max(r.reject_id) as newest
        from dusky.reject r
        join dusky.file f on f.file_id = r.file_id
        join dusky.reject_problem p on p.reject_id = r.reject_id and p.problem = 1
        where f.feed = any(:feeds) and r.recorded_at >= :since and r.recorded_at < :until
        group by f.feed, p.column_name, p.code
      ) g join dusky.reject_problem p on p.reject_id = g.newest and p.problem = 1
      order by g.open_rejects desc, g.mended_rejects + g.waived_rejects desc, g.feed,
        g.column_name, g.code""";

  private static final String ENTRIES =
      """
       from dusky.tally t join dusky.file f on f.file_id = t.file_id
      join dusky.load l on l.load_id = t.load_id
      where f.feed = any(:feeds) and t.written_at >= :since and t.written_at < :until""";

  /** A refused or revised file that was settled in a later load waits for nobody. */
  private static final String WAITS =
      "f.state in ('refused', 'revised') and t.state = f.state and f.load_id = t.load_id";

  private static final String FILES =
      """
      select f.feed, f.path, t.load_id, t.state, f.state as now, t.written_at, t.read_rows,
             t.loaded_rows, t.duplicate_rows, t.rejected_rows, t.filtered_rows, t.withheld_rows,
             t.stored_bytes, t.elapsed_ms, l.into_table, t.message%s
      order by case when %s then 0 else 1 end, t.written_at desc, t.load_id desc, t.file_id desc
      fetch first %d rows only""";

  /** What was used, summed; the days are those of UTC. */
  private static final String USAGE =
      """
      select r.name, cast(floor(extract(epoch from r.started_at) / 86400) as bigint) as day_number,
             count(*) as runs, coalesce(sum(r.files), 0) as files, coalesce(sum(r.done_rows), 0) as done_rows,
             %s
      from (
        %s
      ) r join dusky.usage u on %s
      where r.started_at >= :since and r.started_at < :until
      group by r.name, cast(floor(extract(epoch from r.started_at) / 86400) as bigint)
      order by 2, 1""";

  private static final List<String> USED =
      List.of(
          "wall_ms",
          "processor_ms",
          "database_ms",
          "bytes_in",
          "bytes_out",
          "list_requests",
          "get_requests",
          "put_requests",
          "copy_requests",
          "delete_requests");

  private static final String LOADS =
      """
      select l.load_id as id, l.feed as name, l.started_at,
               (select count(*) from dusky.tally t where t.load_id = l.load_id
                 and t.state = 'posted') as files,
               (select sum(t.loaded_rows) from dusky.tally t where t.load_id = l.load_id
                 and t.state in ('posted', 'mended')) as done_rows
        from dusky.load l""";

  private static final String MERGES =
      """
      select m.merge_id as id, m.merge_name as name, m.started_at,
               (select count(*) from dusky.merge_file f where f.merge_id = m.merge_id) as files,
               m.landed_rows as done_rows
        from dusky.merge_run m""";

  private final Database database;

  /** The figures of that database. */
  public JdbcReportEntries(Database database) {
    this.database = database;
  }

  private static String sum(String column) {
    return "coalesce(sum(case when %s then t.%s end), 0) as %s".formatted(POSTED, column, column);
  }

  @Override
  public List<Settled> settled(Collection<String> feeds, Instant since, Instant until) {
    return list(
        SETTLED,
        feeds,
        since,
        until,
        row ->
            new Settled(
                row.getString("feed"),
                row.getLong("slot"),
                row.getLong("files"),
                row.getLong("refused"),
                row.getLong("twins"),
                row.getLong("read_rows"),
                row.getLong("loaded_rows"),
                row.getLong("duplicate_rows"),
                row.getLong("rejected_rows"),
                row.getLong("filtered_rows"),
                row.getLong("reversed"),
                row.getLong("stored_bytes"),
                row.getLong("elapsed_ms")));
  }

  @Override
  public List<RejectSum> rejects(Collection<String> feeds, Instant since, Instant until) {
    return list(
        REJECTS,
        feeds,
        since,
        until,
        row ->
            new RejectSum(
                row.getString("feed"),
                row.getString("column_name"),
                row.getString("code"),
                row.getLong("open_rejects"),
                row.getLong("mended_rejects"),
                row.getLong("waived_rejects"),
                Optional.ofNullable(row.getTimestamp("oldest")).map(Timestamp::toInstant),
                row.getString("raw_value"),
                row.getString("message")));
  }

  @Override
  public List<FileSum> files(Collection<String> feeds, Instant since, Instant until, int most) {
    return list(
        FILES.formatted(ENTRIES, WAITS, most),
        feeds,
        since,
        until,
        row ->
            new FileSum(
                row.getString("feed"),
                row.getString("path"),
                row.getLong("load_id"),
                row.getString("state"),
                row.getString("now"),
                row.getTimestamp("written_at").toInstant(),
                new Tally(
                    row.getLong("read_rows"),
                    row.getLong("loaded_rows"),
                    row.getLong("duplicate_rows"),
                    row.getLong("rejected_rows"),
                    row.getLong("filtered_rows"),
                    row.getLong("withheld_rows")),
                row.getLong("stored_bytes"),
                Duration.ofMillis(row.getLong("elapsed_ms")),
                row.getString("into_table"),
                Optional.ofNullable(row.getString("message")).orElse("")));
  }

  @Override
  public long fileCount(Collection<String> feeds, Instant since, Instant until) {
    return list(
            "select count(*) as entries" + ENTRIES,
            feeds,
            since,
            until,
            row -> row.getLong("entries"))
        .get(0);
  }

  @Override
  public List<UsageLine> usage(Instant since, Instant until) {
    List<UsageLine> lines = new ArrayList<>(usage(false, since, until));
    lines.addAll(usage(true, since, until));
    return lines;
  }

  private List<UsageLine> usage(boolean merges, Instant since, Instant until) {
    String sums =
        USED.stream()
            .map(column -> "sum(u.%s) as %s".formatted(column, column))
            .collect(Collectors.joining(", "));
    String runs = merges ? MERGES : LOADS;
    String on = merges ? "u.merge_id = r.id" : "u.load_id = r.id";
    return list(
        USAGE.formatted(sums, runs, on),
        List.of(),
        since,
        until,
        row ->
            new UsageLine(
                row.getString("name"),
                merges,
                LocalDate.ofEpochDay(row.getLong("day_number")),
                row.getLong("runs"),
                row.getLong("files"),
                row.getLong("done_rows"),
                new Usage(
                    row.getLong("wall_ms"),
                    row.getLong("processor_ms"),
                    row.getLong("database_ms"),
                    row.getLong("bytes_in"),
                    row.getLong("bytes_out"),
                    Map.of(
                        Request.LIST, row.getLong("list_requests"),
                        Request.GET, row.getLong("get_requests"),
                        Request.PUT, row.getLong("put_requests"),
                        Request.COPY, row.getLong("copy_requests"),
                        Request.DELETE, row.getLong("delete_requests")))));
  }

  @FunctionalInterface
  private interface RowOf<T> {
    T read(ResultSet row) throws SQLException;
  }

  private <T> List<T> list(
      String sql, Collection<String> feeds, Instant since, Instant until, RowOf<T> rowOf) {
    RowMapper<T> mapper = (row, context) -> rowOf.read(row);
    return database.look(
        "Reading the ledger for a report",
        h -> {
          Query query = h.createQuery(sql);
          return query
              .bindArray("feeds", String.class, feeds.toArray())
              .bind("since", since)
              .bind("until", until)
              .map(mapper)
              .list();
        });
  }
}
