package dev.dusky.warehouses;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.LandedRows;
import dev.dusky.core.tables.RowWriter;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** The claim on one file: a row lock in {@code dusky.file} that dies with its connection. */
final class JdbcFileClaim implements FileClaim {

  private final JdbcWarehouse warehouse;
  private final Connection connection;
  private final JdbcRunningLoad load;
  private Feed feed;
  private TableShape table;
  private final StagedFile file;
  private long fileId;
  private FileState state;
  private boolean again;
  private Optional<Long> lastLoad = Optional.empty();

  JdbcFileClaim(
      JdbcWarehouse warehouse,
      Connection connection,
      JdbcRunningLoad load,
      Feed feed,
      TableShape table,
      StagedFile file) {
    this.warehouse = warehouse;
    this.connection = connection;
    this.load = load;
    this.feed = feed;
    this.table = table;
    this.file = file;
  }

  /**
   * Enters the file if need be and locks its row; false if it is held or settled elsewhere.
   *
   * @param seen the load that last dealt with it, as far as the caller knows
   * @param settledToo whether it may be settled, and by anyone
   */
  boolean take(Optional<Long> seen, boolean settledToo) throws SQLException {
    again = settledToo;
    lastLoad = seen;
    enter();
    return lock();
  }

  private void enter() throws SQLException {
    String sql =
        """
        insert into dusky.file (feed, path, version, state, size_bytes, modified_at, seen_at)
        select cast(? as varchar(200)), cast(? as varchar(1100)), cast(? as varchar(200)),
               'waiting', cast(? as bigint), cast(? as timestamp with time zone),
               cast(? as timestamp with time zone)
        where not exists
          (select 1 from dusky.file where feed = ? and path = ? and version = ?)""";
    try (PreparedStatement insert = connection.prepareStatement(sql)) {
      insert.setString(1, feed.name());
      insert.setString(2, file.path());
      insert.setString(3, file.version());
      insert.setLong(4, file.size());
      insert.setTimestamp(5, Timestamp.from(file.modified()));
      insert.setTimestamp(6, Timestamp.from(Instant.now()));
      insert.setString(7, feed.name());
      insert.setString(8, file.path());
      insert.setString(9, file.version());
      insert.executeUpdate();
      connection.commit();
    } catch (SQLException e) {
      connection.rollback();
      if (!"23505".equals(e.getSQLState())) {
        throw e;
      }
      // Another load entered it at the same moment: the row is there, which is all we want.
    }
  }

  /** Goes on with a feed and a table that have grown. */
  void reshape(Feed grownFeed, TableShape grownTable) {
    feed = grownFeed;
    table = grownTable;
  }

  private boolean lock() throws SQLException {
    String sql =
        "select file_id, state, load_id, (select max(t.load_id) from dusky.tally t"
            + " where t.file_id = f.file_id and t.reversed_by is null"
            + " and t.state in ('posted', 'twin')) from dusky.file f"
            + " where feed = ? and path = ? and version = ? "
            + warehouse.dialect().claimClause();
    try (PreparedStatement query = connection.prepareStatement(sql)) {
      query.setString(1, feed.name());
      query.setString(2, file.path());
      query.setString(3, file.version());
      try (ResultSet row = query.executeQuery()) {
        if (row.next()) {
          fileId = row.getLong(1);
          state = FileState.of(row.getString(2));
          Optional<Long> last = Optional.ofNullable(row.getObject(3, Long.class));
          long live = row.getLong(4);
          if (live > 0 && !state.settled() && !again) {
            throw FileRows.postedAlready(file.path(), state.label(), live);
          }
          if (again || !state.settled() && last.equals(lastLoad)) {
            return true;
          }
        }
      }
    }
    connection.rollback();
    return false;
  }

  @Override
  public long fileId() {
    return fileId;
  }

  @Override
  public RowWriter writer() {
    return warehouse.writer(connection, feed, table, load.id(), fileId, true);
  }

  @Override
  public void withdraw(String why) {
    try {
      if (new Reversal(connection, load.start(), table).path(file.path(), why) && state.settled()) {
        state = FileState.REVERSED;
      }
    } catch (SQLException e) {
      throw warehouse.failures().of("Taking out the rows of " + file.path(), e);
    }
  }

  @Override
  public String landedMark() {
    return LandedReader.mark(warehouse, connection, feed, load.id());
  }

  @Override
  public void landedRows(List<String> columns, LandedRows taker) {
    LandedReader.read(warehouse, connection, feed, columns, taker);
  }

  @Override
  public Optional<FileEntry> twinOf(String fingerprint) {
    try {
      warehouse.dialect().holdContents(connection, feed.name());
      return twinOf(connection, feed.name(), fingerprint, fileId);
    } catch (SQLException e) {
      throw warehouse.failures().of("Looking for twins of " + file.path(), e);
    }
  }

  /** A posted file of the feed with this content, other than the given one. */
  static Optional<FileEntry> twinOf(
      Connection connection, String feed, String fingerprint, long except) throws SQLException {
    String sql =
        "select file_id, path, version, state, load_id, message, declared from dusky.file"
            + " where feed = ? and fingerprint = ? and state = 'posted' and file_id <> ?"
            + " order by file_id";
    try (PreparedStatement query = connection.prepareStatement(sql)) {
      query.setString(1, feed);
      query.setString(2, fingerprint);
      query.setLong(3, except);
      try (ResultSet row = query.executeQuery()) {
        return row.next() ? Optional.of(JdbcLedger.entry(row)) : Optional.empty();
      }
    }
  }

  @Override
  public boolean undoRows() {
    try {
      connection.rollback();
      return lock();
    } catch (SQLException e) {
      throw warehouse.failures().of("Undoing the rows of " + file.path(), e);
    }
  }

  @Override
  public void settle(FileOutcome outcome, RejectSpool rejects) {
    if (!state.next().contains(outcome.state())) {
      throw new IllegalStateException(
          "a file that is " + state.label() + " cannot become " + outcome.state().label());
    }
    try {
      FileRows rows = new FileRows(connection, warehouse.dialect(), load);
      rows.add(fileId, outcome);
      rows.flush();
      RejectRows.replace(connection, load.id(), fileId, rejects);
      if (outcome.state().settled()) {
        DueRows.enter(connection, fileId, file.path(), feed.policies().arrivals().afterwards());
      }
      connection.commit();
    } catch (SQLException e) {
      throw warehouse.failures().of("Posting " + file.path(), e);
    }
  }

  @Override
  public void close() {
    warehouse.undo(connection);
    load.giveBack(connection);
  }
}
