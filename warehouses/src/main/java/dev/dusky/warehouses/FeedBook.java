package dev.dusky.warehouses;

import dev.dusky.core.ledger.FileState;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.sql.Types;
import java.time.Instant;
import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;

/** What the ledger knows of feeds as such: pauses, and how watching them goes. */
public final class FeedBook {

  /**
   * A feed that is held.
   *
   * @param at since when
   * @param by who did it
   * @param host on which machine
   * @param reason why
   */
  public record Pause(Instant at, String by, String host, String reason) {

    @Override
    public String toString() {
      return "paused by %s on %s since %s: %s".formatted(by, host, at.toString(), reason);
    }
  }

  /**
   * How watching a feed goes.
   *
   * @param lookedAt when its depot was last looked at
   * @param lookedBy by which process
   * @param failures how many times in a row that failed
   * @param failure why it failed last
   * @param retryAt when it is tried again
   */
  public record Watched(
      Instant lookedAt,
      String lookedBy,
      int failures,
      Optional<String> failure,
      Optional<Instant> retryAt) {}

  /**
   * What the ledger has of a feed's files.
   *
   * @param lastPost when a file was last posted
   * @param rows rows loaded within the last day
   * @param seconds how long that took
   * @param openRejects rejects that nobody has settled
   */
  public record Posted(Optional<Instant> lastPost, long rows, double seconds, long openRejects) {}

  private final JdbcWarehouse warehouse;

  FeedBook(JdbcWarehouse warehouse) {
    this.warehouse = warehouse;
  }

  /** The pause that holds a feed, if one does. */
  public Optional<Pause> pause(String feed) {
    return warehouse.transact(
        "Asking whether feed " + feed + " is paused",
        c -> {
          try (PreparedStatement query =
              c.prepareStatement(
                  "select paused_at, paused_by, host, reason from dusky.pause"
                      + " where feed = ? and resumed_at is null order by pause_id")) {
            query.setString(1, feed);
            try (ResultSet row = query.executeQuery()) {
              return row.next()
                  ? Optional.of(
                      new Pause(
                          row.getTimestamp(1).toInstant(),
                          row.getString(2),
                          row.getString(3),
                          row.getString(4)))
                  : Optional.empty();
            }
          }
        });
  }

  /** Holds a feed; false if it is held already. */
  public boolean pause(String feed, Pause pause) {
    String sql =
        "insert into dusky.pause (feed, paused_at, paused_by, host, reason)"
            + " select cast(? as varchar(200)), cast(? as timestamp with time zone),"
            + " cast(? as varchar(200)), cast(? as varchar(200)), cast(? as varchar(1000))"
            + " where not exists"
            + " (select 1 from dusky.pause where feed = ? and resumed_at is null)";
    return warehouse.transact(
        "Pausing feed " + feed,
        c -> {
          try (PreparedStatement insert = c.prepareStatement(sql)) {
            insert.setString(1, feed);
            insert.setTimestamp(2, Timestamp.from(pause.at()));
            insert.setString(3, pause.by());
            insert.setString(4, pause.host());
            insert.setString(5, LedgerText.fit(pause.reason(), 1000));
            insert.setString(6, feed);
            return insert.executeUpdate() > 0;
          }
        });
  }

  /** Lets a feed go on; false if nothing held it. */
  public boolean resume(String feed, String by) {
    return warehouse.transact(
        "Resuming feed " + feed,
        c -> {
          try (PreparedStatement update =
              c.prepareStatement(
                  "update dusky.pause set resumed_at = ?, resumed_by = ?"
                      + " where feed = ? and resumed_at is null")) {
            update.setTimestamp(1, Timestamp.from(Instant.now()));
            update.setString(2, by);
            update.setString(3, feed);
            return update.executeUpdate() > 0;
          }
        });
  }

  /** How watching a feed goes, if anybody has watched it. */
  public Optional<Watched> watched(String feed) {
    return warehouse.transact(
        "Reading how feed " + feed + " is watched",
        c -> {
          try (PreparedStatement query =
              c.prepareStatement(
                  "select looked_at, looked_by, failures, failure, retry_at from dusky.watch"
                      + " where feed = ?")) {
            query.setString(1, feed);
            try (ResultSet row = query.executeQuery()) {
              return row.next()
                  ? Optional.of(
                      new Watched(
                          row.getTimestamp(1).toInstant(),
                          row.getString(2),
                          row.getInt(3),
                          Optional.ofNullable(row.getString(4)),
                          Optional.ofNullable(row.getTimestamp(5)).map(Timestamp::toInstant)))
                  : Optional.empty();
            }
          }
        });
  }

  /** Writes down how watching a feed goes. */
  public void watched(String feed, Watched watched) {
    String update =
        "update dusky.watch set looked_at = ?, looked_by = ?, failures = ?, failure = ?,"
            + " retry_at = ? where feed = ?";
    String insert =
        "insert into dusky.watch (looked_at, looked_by, failures, failure, retry_at, feed)"
            + " values (?, ?, ?, ?, ?, ?)";
    warehouse.transact(
        "Noting how feed " + feed + " is watched",
        c -> {
          try (PreparedStatement change = c.prepareStatement(update)) {
            if (put(change, feed, watched) > 0) {
              return null;
            }
          }
          warehouse.dialect().serialiseMigrations(c); // two processes that both enter it
          try (PreparedStatement change = c.prepareStatement(update);
              PreparedStatement first = c.prepareStatement(insert)) {
            if (put(change, feed, watched) == 0) {
              put(first, feed, watched);
            }
          }
          return null;
        });
  }

  private static int put(PreparedStatement statement, String feed, Watched watched)
      throws SQLException {
    statement.setTimestamp(1, Timestamp.from(watched.lookedAt()));
    statement.setString(2, watched.lookedBy());
    statement.setInt(3, watched.failures());
    statement.setString(4, watched.failure().map(f -> LedgerText.fit(f, 4000)).orElse(null));
    if (watched.retryAt().isPresent()) {
      statement.setTimestamp(5, Timestamp.from(watched.retryAt().get()));
    } else {
      statement.setNull(5, Types.TIMESTAMP_WITH_TIMEZONE);
    }
    statement.setString(6, feed);
    return statement.executeUpdate();
  }

  /** How many of a feed's files were ever dealt with, each version by itself. */
  public long dealtWith(String feed) {
    Map<FileState, Long> states = states(feed);
    states.remove(FileState.WAITING);
    return states.values().stream().mapToLong(Long::longValue).sum();
  }

  /** How many files of a feed the ledger has in each state. */
  public Map<FileState, Long> states(String feed) {
    return warehouse.transact(
        "Counting the files of feed " + feed,
        c -> {
          try (PreparedStatement query =
              c.prepareStatement(
                  "select state, count(*) from dusky.file where feed = ? group by state")) {
            query.setString(1, feed);
            Map<FileState, Long> states = new EnumMap<>(FileState.class);
            try (ResultSet row = query.executeQuery()) {
              while (row.next()) {
                states.put(FileState.of(row.getString(1)), row.getLong(2));
              }
            }
            return states;
          }
        });
  }

  /** What the ledger has of a feed's files. */
  public Posted posted(String feed) {
    String sql =
        """
        select
          (select max(t.written_at) from dusky.tally t join dusky.load l on l.load_id = t.load_id
           where l.feed = ? and t.state = 'posted'),
          coalesce(sum(t.loaded_rows), 0), coalesce(sum(t.elapsed_ms), 0),
          (select count(*) from dusky.reject r join dusky.file f on f.file_id = r.file_id
           where f.feed = ? and r.state = 'open')
        from dusky.tally t join dusky.load l on l.load_id = t.load_id
        where l.feed = ? and t.state = 'posted' and t.written_at > ?""";
    return warehouse.transact(
        "Reading what feed " + feed + " posted",
        c -> {
          try (PreparedStatement query = c.prepareStatement(sql)) {
            query.setString(1, feed);
            query.setString(2, feed);
            query.setString(3, feed);
            query.setTimestamp(4, Timestamp.from(Instant.now().minusSeconds(86_400)));
            try (ResultSet row = query.executeQuery()) {
              row.next();
              return new Posted(
                  Optional.ofNullable(row.getTimestamp(1)).map(Timestamp::toInstant),
                  row.getLong(2),
                  row.getLong(3) / 1000.0,
                  row.getLong(4));
            }
          }
        });
  }
}
