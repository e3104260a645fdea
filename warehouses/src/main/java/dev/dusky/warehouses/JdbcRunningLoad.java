package dev.dusky.warehouses;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.drift.Growth;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.GroupClaim;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.ledger.RejectClaim;
import dev.dusky.core.ledger.RunningLoad;
import dev.dusky.core.reject.StoredReject;
import dev.dusky.core.table.TableShape;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Deque;
import java.util.List;
import java.util.Optional;

/**
 * A load at work over JDBC. One connection holds the lock on the load's row and nothing else;
 * others carry the files' transactions, as many as are claimed at the same time. Groups of small
 * files have two of their own by turns, so that one is read while another is posted.
 */
final class JdbcRunningLoad implements RunningLoad {

  private final JdbcWarehouse warehouse;
  private final Connection lock;
  private final List<Connection> opened = new ArrayList<>();
  private final Deque<Connection> free = new ArrayDeque<>();
  private final long id;
  private final LoadStart start;
  private Feed feed;
  private TableShape table;
  private final Connection[] together = new Connection[2];
  private int turn;
  private LoadState state = LoadState.RUNNING;

  JdbcRunningLoad(
      JdbcWarehouse warehouse,
      Connection lock,
      long id,
      LoadStart start,
      Feed feed,
      TableShape table) {
    this.warehouse = warehouse;
    this.lock = lock;
    this.id = id;
    this.start = start;
    this.feed = feed;
    this.table = table;
  }

  /** Locks a load's row; false if it no longer runs or someone else holds it. */
  static boolean lock(Connection connection, Dialect dialect, long id) throws SQLException {
    String sql = "select state from dusky.load where load_id = ? " + dialect.claimClause();
    try (PreparedStatement query = connection.prepareStatement(sql)) {
      query.setLong(1, id);
      try (ResultSet row = query.executeQuery()) {
        return row.next() && row.getString(1).equals(LoadState.RUNNING.label());
      }
    }
  }

  static void end(Connection connection, long id, LoadState state, String message)
      throws SQLException {
    String sql = "update dusky.load set state = ?, ended_at = ?, message = ? where load_id = ?";
    try (PreparedStatement update = connection.prepareStatement(sql)) {
      update.setString(1, state.label());
      update.setTimestamp(2, Timestamp.from(Instant.now()));
      update.setString(3, message.isEmpty() ? null : LedgerText.fit(message, 4000));
      update.setLong(4, id);
      update.executeUpdate();
    }
  }

  /** What was written down when it began. */
  LoadStart start() {
    return start;
  }

  @Override
  public long id() {
    return id;
  }

  @Override
  public Optional<FileClaim> claim(StagedFile file, Optional<FileEntry> known) {
    return claim(file, known.flatMap(FileEntry::loadId), false);
  }

  @Override
  public Optional<GroupClaim> claimTogether(
      List<StagedFile> files, List<Optional<FileEntry>> known) {
    try {
      turn = 1 - turn;
      if (together[turn] == null) {
        together[turn] = warehouse.connect();
      }
      JdbcGroupClaim claim = new JdbcGroupClaim(warehouse, together[turn], this, feed, table);
      return claim.take(files, known) ? Optional.of(claim) : Optional.empty();
    } catch (SQLException e) {
      throw warehouse.failed(together[turn], "Claiming small files of feed " + feed.name(), e);
    }
  }

  @Override
  public Optional<FileClaim> claimAgain(StagedFile file) {
    return claim(file, Optional.empty(), true);
  }

  private Optional<FileClaim> claim(StagedFile file, Optional<Long> lastLoad, boolean again) {
    Connection own = take();
    try {
      JdbcFileClaim claim = new JdbcFileClaim(warehouse, own, this, feed, table, file);
      if (claim.take(lastLoad, again)) {
        return Optional.of(claim);
      }
      giveBack(own);
      return Optional.empty();
    } catch (SQLException e) {
      Failure failure = warehouse.failed(own, "Claiming " + file.path(), e);
      giveBack(own);
      throw failure;
    }
  }

  /** A connection for one file's transaction. */
  private synchronized Connection take() {
    if (free.isEmpty()) {
      Connection made = warehouse.connect();
      opened.add(made);
      return made;
    }
    return free.pop();
  }

  /** Takes back a connection on which nothing is open any more. */
  synchronized void giveBack(Connection connection) {
    free.push(connection);
  }

  @Override
  public int atOnce() {
    int most = warehouse.embedded() ? 1 : warehouse.connections();
    return most > 1 && warehouse.independent(table.name()) ? most : 1;
  }

  @Override
  public Growth.Result grow(FileClaim claim, Growth growth) {
    Growth.Result result = new TableGrowth(warehouse).grow(feed, growth, id);
    feed = result.feed();
    table = result.table();
    ((JdbcFileClaim) claim).reshape(feed, table);
    return result;
  }

  @Override
  public RejectClaim claimRejects(StoredReject any, Collection<Long> rejects) {
    Connection own = take();
    try {
      JdbcRejectClaim claim = new JdbcRejectClaim(warehouse, own, this, feed, table, any);
      claim.take(rejects);
      return claim;
    } catch (SQLException e) {
      Failure failure = warehouse.failed(own, "Claiming rejects of " + any.file().path(), e);
      giveBack(own);
      throw failure;
    }
  }

  @Override
  public void finish(LoadState next, String message) {
    if (!next.mayFollow(state)) {
      throw new IllegalStateException(
          "a load that is " + state.label() + " cannot become " + next.label());
    }
    try {
      end(lock, id, next, message);
      lock.commit();
      state = next;
    } catch (SQLException e) {
      throw warehouse.failures().of("Closing load " + id, e);
    }
  }

  @Override
  public void close() {
    opened.forEach(warehouse::release);
    for (Connection connection : together) {
      if (connection != null) {
        warehouse.release(connection);
      }
    }
    warehouse.release(lock);
  }
}
