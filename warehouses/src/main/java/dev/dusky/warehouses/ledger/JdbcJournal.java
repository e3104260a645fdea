package dev.dusky.warehouses.ledger;

import dev.dusky.core.ledger.DriftLine;
import dev.dusky.core.ledger.Journal;
import dev.dusky.core.ledger.JournalChoice;
import dev.dusky.core.ledger.LoadHead;
import dev.dusky.core.ledger.LoadLine;
import dev.dusky.core.ledger.MergeLine;
import dev.dusky.core.ledger.MergeRejectLine;
import dev.dusky.core.ledger.RejectCounts;
import dev.dusky.core.ledger.TallyLine;
import dev.dusky.core.merge.MergeTally;
import dev.dusky.core.tally.Tally;
import dev.dusky.warehouses.connection.Database;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.sql.Types;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import org.jdbi.v3.core.mapper.RowMapper;
import org.jdbi.v3.core.statement.Query;

/** The history in the ledger's tables. */
final class JdbcJournal implements Journal {

  private static final Instant LATEST = Instant.parse("9000-01-01T00:00:00Z");

  private static final String LOADS =
      """
      select load_id, kind, feed, into_table, state, started_at, ended_at, started_by,
             posted_files, twin_files, refused_files, revised_files, mended_files, reversed_files,
             read_rows, loaded_rows, duplicate_rows, rejected_rows, filtered_rows, stored_bytes,
             content_bytes, message
      from dusky.load_total l
      where (:name = '' or feed = :name) and (:table = '' or into_table = :table)
        and (:state = '' or state = :state) and started_at >= :from and started_at < :to
        and (:file = '' or exists (select 1 from dusky.tally t
          join dusky.file f on f.file_id = t.file_id
          where t.load_id = l.load_id and f.path = :file))
      order by load_id desc fetch first %d rows only""";

  private static final String FILES =
      """
      select t.load_id, f.path, t.state, t.read_rows, t.loaded_rows, t.duplicate_rows,
             t.rejected_rows, t.filtered_rows, t.withheld_rows, t.stored_bytes, t.elapsed_ms,
             t.message, s.open_rejects, s.mended_rejects, s.waived_rejects
      from dusky.tally t join dusky.file f on f.file_id = t.file_id
      left join dusky.reject_state s on s.load_id = t.load_id and s.file_id = t.file_id
      where t.load_id = :load order by f.path, f.file_id""";

  private static final String MERGES =
      """
      select r.merge_id, r.merge_name, r.source, r.into_table, r.existing, r.state, r.retry,
             r.started_at, r.ended_at, r.started_by, r.landed_rows, r.inserted_rows,
             r.updated_rows, r.unchanged_rows, r.superseded_rows, r.deleted_rows,
             r.rejected_rows, r.missing_rows, r.message,
             (select count(distinct f.file_id) from dusky.merge_file f
              where f.merge_id = r.merge_id) as files
      from dusky.merge_run r
      where (:name = '' or r.merge_name = :name)
        and (:table = '' or r.into_table = :table or r.source = :table)
        and (:state = '' or r.state = :state) and r.started_at >= :from and r.started_at < :to
        and (:file = '' or exists (select 1 from dusky.merge_file m
          join dusky.file f on f.file_id = m.file_id
          where m.merge_id = r.merge_id and f.path = :file))
      order by r.merge_id desc fetch first %d rows only""";

  private static final String DRIFTS =
      """
      select feed, load_id, path, file_state, field, change, seen, action, record_count, example,
             statement, remark, started_at
      from dusky.drift_detail
      where (cast(:feed as varchar(200)) is null or feed = :feed)
        and (cast(:load as bigint) is null or load_id = :load)
        and (cast(:path as varchar(1100)) is null or path = :path)
      order by load_id desc, path, field, change limit :most""";

  private final Database database;

  JdbcJournal(Database database) {
    this.database = database;
  }

  @Override
  public List<LoadLine> loads(JournalChoice choice, int most) {
    return list(LOADS.formatted(most), query -> chosen(query, choice), JdbcJournal::load);
  }

  private static LoadLine load(ResultSet row) throws SQLException {
    return new LoadLine(
        row.getLong("load_id"),
        row.getString("kind"),
        row.getString("feed"),
        row.getString("into_table"),
        row.getString("state"),
        row.getTimestamp("started_at").toInstant(),
        instant(row, "ended_at"),
        row.getString("started_by"),
        row.getLong("posted_files"),
        row.getLong("twin_files"),
        row.getLong("refused_files"),
        row.getLong("revised_files"),
        row.getLong("mended_files"),
        row.getLong("reversed_files"),
        tally(row, 0),
        row.getLong("stored_bytes"),
        row.getLong("content_bytes"),
        text(row, "message"));
  }

  @Override
  public List<TallyLine> files(long loadId) {
    return list(
        FILES,
        query -> query.bind("load", loadId),
        row ->
            new TallyLine(
                row.getLong("load_id"),
                row.getString("path"),
                row.getString("state"),
                tally(row, row.getLong("withheld_rows")),
                row.getLong("stored_bytes"),
                Duration.ofMillis(row.getLong("elapsed_ms")),
                text(row, "message"),
                new RejectCounts(
                    row.getLong("open_rejects"),
                    row.getLong("mended_rejects"),
                    row.getLong("waived_rejects"))));
  }

  @Override
  public List<MergeLine> merges(JournalChoice choice, int most) {
    return list(MERGES.formatted(most), query -> chosen(query, choice), JdbcJournal::merge);
  }

  private static MergeLine merge(ResultSet row) throws SQLException {
    return new MergeLine(
        row.getLong("merge_id"),
        row.getString("merge_name"),
        row.getString("source"),
        row.getString("into_table"),
        row.getString("existing"),
        row.getString("state"),
        row.getBoolean("retry"),
        row.getTimestamp("started_at").toInstant(),
        instant(row, "ended_at"),
        row.getString("started_by"),
        new MergeTally(
            row.getLong("landed_rows"),
            row.getLong("inserted_rows"),
            row.getLong("updated_rows"),
            row.getLong("unchanged_rows"),
            row.getLong("superseded_rows"),
            row.getLong("deleted_rows"),
            row.getLong("rejected_rows"),
            row.getLong("missing_rows")),
        row.getLong("files"),
        text(row, "message"));
  }

  @Override
  public List<TallyLine> mergedFiles(long mergeId) {
    return list(
        "select m.load_id, f.path, m.landed_rows, f.size_bytes from dusky.merge_file m"
            + " join dusky.file f on f.file_id = m.file_id where m.merge_id = :merge"
            + " order by f.path, m.load_id",
        query -> query.bind("merge", mergeId),
        row -> {
          long landed = row.getLong("landed_rows");
          return new TallyLine(
              row.getLong("load_id"),
              row.getString("path"),
              "merged",
              Tally.posted(landed, landed, 0, 0),
              row.getLong("size_bytes"),
              Duration.ZERO,
              "",
              new RejectCounts(0, 0, 0));
        });
  }

  @Override
  public List<MergeRejectLine> mergeRejects(long mergeId) {
    return list(
        "select code, column_name, count(*) as all_rows,"
            + " count(case when state = 'open' then 1 end) as open_rows, min(key_text) as a_key"
            + " from dusky.merge_reject where merge_id = :merge"
            + " group by code, column_name order by code, column_name",
        query -> query.bind("merge", mergeId),
        row ->
            new MergeRejectLine(
                row.getString("code"),
                row.getString("column_name"),
                row.getLong("all_rows"),
                row.getLong("open_rows"),
                row.getString("a_key")));
  }

  @Override
  public List<DriftLine> drifts(
      Optional<String> feed, Optional<Long> load, Optional<String> path, int most) {
    return list(
        DRIFTS,
        query ->
            query
                .bindBySqlType("feed", feed.orElse(null), Types.VARCHAR)
                .bindBySqlType("load", load.orElse(null), Types.BIGINT)
                .bindBySqlType("path", path.orElse(null), Types.VARCHAR)
                .bind("most", most),
        row ->
            new DriftLine(
                row.getString("feed"),
                row.getLong("load_id"),
                row.getString("path"),
                row.getString("file_state"),
                row.getString("field"),
                row.getString("change"),
                row.getString("seen"),
                row.getString("action"),
                row.getLong("record_count"),
                row.getString("example"),
                Optional.ofNullable(row.getString("statement")),
                row.getString("remark"),
                row.getTimestamp("started_at").toInstant()));
  }

  @Override
  public Optional<LoadHead> load(long id) {
    return list(
            "select feed, into_table, kind from dusky.load where load_id = :load",
            query -> query.bind("load", id),
            row ->
                new LoadHead(
                    row.getString("feed"), row.getString("into_table"), row.getString("kind")))
        .stream()
        .findFirst();
  }

  private static Query chosen(Query query, JournalChoice choice) {
    return query
        .bind("name", choice.name().orElse(""))
        .bind("table", choice.table().orElse(""))
        .bind("state", choice.state().orElse(""))
        .bind("file", choice.file().orElse(""))
        .bind(
            "from",
            choice.day().map(d -> d.atStartOfDay(ZoneOffset.UTC).toInstant()).orElse(Instant.EPOCH))
        .bind(
            "to",
            choice
                .day()
                .map(d -> d.plusDays(1).atStartOfDay(ZoneOffset.UTC).toInstant())
                .orElse(LATEST));
  }

  private static Tally tally(ResultSet row, long withheld) throws SQLException {
    return new Tally(
        row.getLong("read_rows"),
        row.getLong("loaded_rows"),
        row.getLong("duplicate_rows"),
        row.getLong("rejected_rows"),
        row.getLong("filtered_rows"),
        withheld);
  }

  private static Optional<Instant> instant(ResultSet row, String column) throws SQLException {
    return Optional.ofNullable(row.getTimestamp(column)).map(Timestamp::toInstant);
  }

  private static String text(ResultSet row, String column) throws SQLException {
    String value = row.getString(column);
    return value == null ? "" : value;
  }

  @FunctionalInterface
  private interface RowOf<T> {
    T read(ResultSet row) throws SQLException;
  }

  private <T> List<T> list(String sql, UnaryOperator<Query> parameters, RowOf<T> rowOf) {
    RowMapper<T> mapper = (row, context) -> rowOf.read(row);
    return database.transact(
        "Reading the journal", h -> parameters.apply(h.createQuery(sql)).map(mapper).list());
  }
}
