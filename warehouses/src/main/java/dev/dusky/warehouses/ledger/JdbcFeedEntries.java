package dev.dusky.warehouses.ledger;

import dev.dusky.core.ledger.FeedEntries;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.HeldFiles;
import dev.dusky.core.ledger.Pause;
import dev.dusky.core.ledger.PostedSummary;
import dev.dusky.core.ledger.WatchEntry;
import dev.dusky.warehouses.connection.Database;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.sql.Types;
import java.time.Duration;
import java.time.Instant;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.generic.GenericType;

/** Pauses in {@code dusky.pause}, watching in {@code dusky.watch}, and sums over a feed. */
final class JdbcFeedEntries implements FeedEntries {

  private static final String POSTED =
      """
      select max(t.written_at) as last_post,
        coalesce(sum(case when t.written_at > :since then t.loaded_rows end), 0) as loaded,
        coalesce(sum(case when t.written_at > :since then t.elapsed_ms end), 0) as elapsed,
        (select count(*) from dusky.reject r join dusky.file f on f.file_id = r.file_id
         where f.feed = :feed and r.state = 'open') as open_rejects
      from dusky.tally t join dusky.load l on l.load_id = t.load_id
      where l.feed = :feed and t.state = 'posted'""";

  private static final String PAUSE =
      """
      insert into dusky.pause (feed, paused_at, paused_by, host, reason)
      select cast(:feed as varchar(200)), cast(:at as timestamp with time zone),
             cast(:by as varchar(200)), cast(:host as varchar(200)),
             cast(:reason as varchar(1000))
      where not exists
        (select 1 from dusky.pause where feed = :feed and resumed_at is null)""";

  private static final String UPDATE_WATCH =
      "update dusky.watch set looked_at = :at, looked_by = :by, failures = :failures,"
          + " failure = :failure, retry_at = :retry where feed = :feed";

  private static final String INSERT_WATCH =
      "insert into dusky.watch (looked_at, looked_by, failures, failure, retry_at, feed)"
          + " values (:at, :by, :failures, :failure, :retry, :feed)";

  private final Database database;

  JdbcFeedEntries(Database database) {
    this.database = database;
  }

  @Override
  public HeldFiles held(String feed, int most) {
    String held =
        " from dusky.file f where f.feed = :feed and f.state in ('refused', 'revised') and not exists"
            + " (select 1 from dusky.file n where n.feed = f.feed and n.path = f.path"
            + " and n.file_id > f.file_id)";
    return database.look(
        "Reading which files of feed " + feed + " wait",
        h -> {
          List<String> paths =
              h.createQuery(
                      "select path"
                          + held
                          + " order by settled_at desc, file_id desc fetch first %d rows only"
                              .formatted(most))
                  .bind("feed", feed)
                  .mapTo(String.class)
                  .list();
          return h.createQuery(
                  "select count(*) as files, coalesce(sum(file_id), 0) as ids,"
                      + " coalesce(max(file_id), 0) as last"
                      + held)
              .bind("feed", feed)
              .map(
                  (row, context) ->
                      new HeldFiles(
                          row.getLong("files"),
                          paths,
                          row.getLong("files")
                              + " "
                              + row.getString("ids")
                              + " "
                              + row.getLong("last")))
              .one();
        });
  }

  @Override
  public long openRejectsBefore(String feed, Instant time) {
    return database.look(
        "Counting old rejects of feed " + feed,
        h ->
            h.createQuery(
                    "select count(*) from dusky.reject r join dusky.file f on f.file_id = r.file_id"
                        + " where f.feed = :feed and f.state <> 'refused' and r.state = 'open' and r.recorded_at < :time")
                .bind("feed", feed)
                .bind("time", time)
                .mapTo(Long.class)
                .one());
  }

  @Override
  public Optional<Instant> firstSeen(String feed) {
    return database.look(
        "Asking when feed " + feed + " began",
        h ->
            h.createQuery("select min(seen_at) from dusky.file where feed = :feed")
                .bind("feed", feed)
                .mapTo(Instant.class)
                .findFirst());
  }

  @Override
  public Map<String, Instant> arrived(String feed, Instant since) {
    return database.look(
        "Reading which files of feed " + feed + " came",
        h ->
            h.createQuery(
                    "select path, min(modified_at) as came from dusky.file f where feed = :feed"
                        + " and exists (select 1 from dusky.file s where s.feed = f.feed"
                        + " and s.path = f.path and s.seen_at >= :since) group by path")
                .bind("feed", feed)
                .bind("since", since)
                .setMapKeyColumn("path")
                .setMapValueColumn("came")
                .collectInto(new GenericType<Map<String, Instant>>() {}));
  }

  @Override
  public Optional<Pause> pause(String feed) {
    return database.look(
        "Asking whether feed " + feed + " is paused",
        h ->
            h.createQuery(
                    "select paused_at, paused_by, host, reason from dusky.pause"
                        + " where feed = :feed and resumed_at is null order by pause_id")
                .bind("feed", feed)
                .map(
                    (row, context) ->
                        new Pause(
                            row.getTimestamp("paused_at").toInstant(),
                            row.getString("paused_by"),
                            row.getString("host"),
                            row.getString("reason")))
                .findFirst());
  }

  @Override
  public boolean pause(String feed, Pause pause) {
    return database.transact(
        "Pausing feed " + feed,
        h ->
            h.createUpdate(PAUSE)
                    .bind("feed", feed)
                    .bind("at", pause.at())
                    .bind("by", pause.by())
                    .bind("host", pause.host())
                    .bind("reason", LedgerText.fit(pause.reason(), 1000))
                    .execute()
                > 0);
  }

  @Override
  public boolean resume(String feed, String by) {
    return database.transact(
        "Resuming feed " + feed,
        h ->
            h.createUpdate(
                        "update dusky.pause set resumed_at = :at, resumed_by = :by"
                            + " where feed = :feed and resumed_at is null")
                    .bind("at", Instant.now())
                    .bind("by", by)
                    .bind("feed", feed)
                    .execute()
                > 0);
  }

  @Override
  public Optional<WatchEntry> watched(String feed) {
    return database.look(
        "Reading how feed " + feed + " is watched",
        h ->
            h.createQuery(
                    "select looked_at, looked_by, failures, failure, retry_at from dusky.watch"
                        + " where feed = :feed")
                .bind("feed", feed)
                .map(
                    (row, context) ->
                        new WatchEntry(
                            row.getTimestamp("looked_at").toInstant(),
                            row.getString("looked_by"),
                            row.getInt("failures"),
                            Optional.ofNullable(row.getString("failure")),
                            instant(row, "retry_at")))
                .findFirst());
  }

  private static Optional<Instant> instant(ResultSet row, String column) throws SQLException {
    return Optional.ofNullable(row.getTimestamp(column)).map(Timestamp::toInstant);
  }

  @Override
  public void watched(String feed, WatchEntry entry) {
    database.transact(
        "Noting how feed " + feed + " is watched",
        h -> {
          if (put(h, UPDATE_WATCH, feed, entry) == 0) {
            database.dialect().serialiseMigrations(h.getConnection()); // two that both insert it
            if (put(h, UPDATE_WATCH, feed, entry) == 0) {
              put(h, INSERT_WATCH, feed, entry);
            }
          }
          return null;
        });
  }

  private static int put(Handle handle, String sql, String feed, WatchEntry entry) {
    return handle
        .createUpdate(sql)
        .bind("at", entry.lookedAt())
        .bind("by", entry.lookedBy())
        .bind("failures", entry.failures())
        .bind("failure", entry.failure().map(f -> LedgerText.fit(f, 4000)).orElse(null))
        .bindBySqlType("retry", entry.retryAt().map(Timestamp::from).orElse(null), Types.TIMESTAMP)
        .bind("feed", feed)
        .execute();
  }

  @Override
  public long dealtWith(String feed) {
    Map<FileState, Long> states = states(feed);
    states.remove(FileState.WAITING);
    return states.values().stream().mapToLong(Long::longValue).sum();
  }

  @Override
  public Map<FileState, Long> states(String feed) {
    return database.look(
        "Counting the files of feed " + feed,
        h ->
            h.createQuery(
                    "select state, count(*) as files from dusky.file where feed = :feed"
                        + " group by state")
                .bind("feed", feed)
                .reduceResultSet(
                    new EnumMap<>(FileState.class),
                    (states, row, context) -> {
                      states.put(FileState.of(row.getString("state")), row.getLong("files"));
                      return states;
                    }));
  }

  @Override
  public PostedSummary posted(String feed) {
    return database.look(
        "Reading what feed " + feed + " posted",
        h ->
            h.createQuery(POSTED)
                .bind("feed", feed)
                .bind("since", Instant.now().minus(Duration.ofDays(1)))
                .map((row, context) -> summary(row))
                .one());
  }

  private static PostedSummary summary(ResultSet row) throws SQLException {
    return new PostedSummary(
        instant(row, "last_post"),
        row.getLong("loaded"),
        row.getLong("elapsed") / 1000.0,
        row.getLong("open_rejects"));
  }
}
