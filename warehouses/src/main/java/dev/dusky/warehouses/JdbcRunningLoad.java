package dev.dusky.warehouses;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.drift.Growth;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.GroupClaim;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.ledger.RejectClaim;
import dev.dusky.core.ledger.RunningLoad;
import dev.dusky.core.reject.StoredReject;
import dev.dusky.core.warehouse.TableShape;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/**
 * A load at work over JDBC. One connection holds the lock on the load's row and nothing else; a
 * second one carries the files' transactions, one after the other. Groups of small files have two
 * of their own by turns, so that one is read while another is posted.
 */
final class JdbcRunningLoad implements RunningLoad {

  private final JdbcWarehouse warehouse;
  private final Connection lock;
  private final Connection posting;
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
    this.posting = warehouse.connect();
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
    try {
      JdbcFileClaim claim = new JdbcFileClaim(warehouse, posting, this, feed, table, file);
      return claim.take(lastLoad, again) ? Optional.of(claim) : Optional.empty();
    } catch (SQLException e) {
      throw warehouse.failed(posting, "Claiming " + file.path(), e);
    }
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
    try {
      JdbcRejectClaim claim = new JdbcRejectClaim(warehouse, posting, this, feed, table, any);
      claim.take(rejects);
      return claim;
    } catch (SQLException e) {
      throw warehouse.failed(posting, "Claiming rejects of " + any.file().path(), e);
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
    warehouse.release(posting);
    for (Connection connection : together) {
      if (connection != null) {
        warehouse.release(connection);
      }
    }
    warehouse.release(lock);
  }
}
