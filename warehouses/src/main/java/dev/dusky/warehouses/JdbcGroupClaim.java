package dev.dusky.warehouses;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.GroupClaim;
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
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Row locks on several small files, whose rows and outcomes commit together. */
final class JdbcGroupClaim implements GroupClaim {

  /** What the ledger has of one of the files. */
  private record Held(long fileId, FileState state) {}

  private final JdbcWarehouse warehouse;
  private final Connection connection;
  private final JdbcRunningLoad load;
  private final Feed feed;
  private final Map<String, Held> held = new HashMap<>();
  private final Map<String, FileEntry> posted = new HashMap<>();
  private final FileRows outcomes;
  private final GroupRows rows;
  private boolean broken;

  JdbcGroupClaim(
      JdbcWarehouse warehouse,
      Connection connection,
      JdbcRunningLoad load,
      Feed feed,
      TableShape table) {
    this.warehouse = warehouse;
    this.connection = connection;
    this.load = load;
    this.feed = feed;
    this.outcomes = new FileRows(connection, warehouse.dialect(), load);
    this.rows =
        warehouse
            .dialect()
            .groupRows(file -> warehouse.posting(connection, feed, table, load.id(), file));
  }

  /** Enters and locks the files; false if another load enters one of them at this moment. */
  boolean take(List<StagedFile> files, List<Optional<FileEntry>> known) throws SQLException {
    if (!enter(files, known)) {
      return false;
    }
    Map<String, StagedFile> byPath = new HashMap<>();
    Map<String, Optional<Long>> seen = new HashMap<>();
    for (int i = 0; i < files.size(); i++) {
      byPath.put(files.get(i).path(), files.get(i));
      seen.put(files.get(i).path(), known.get(i).flatMap(FileEntry::loadId));
    }
    String sql =
        "select file_id, path, version, state, load_id from dusky.file where feed = ? and path in ("
            + String.join(", ", Collections.nCopies(files.size(), "?"))
            + ") "
            + warehouse.dialect().claimClause();
    try (PreparedStatement query = connection.prepareStatement(sql)) {
      query.setString(1, feed.name());
      for (int i = 0; i < files.size(); i++) {
        query.setString(i + 2, files.get(i).path());
      }
      try (ResultSet row = query.executeQuery()) {
        while (row.next()) {
          String path = row.getString(2);
          FileState state = FileState.of(row.getString(4));
          Optional<Long> last = Optional.ofNullable(row.getObject(5, Long.class));
          if (row.getString(3).equals(byPath.get(path).version())
              && !state.settled()
              && last.equals(seen.get(path))) {
            held.put(path, new Held(row.getLong(1), state));
          }
        }
      }
    }
    return true;
  }

  private boolean enter(List<StagedFile> files, List<Optional<FileEntry>> known)
      throws SQLException {
    String sql =
        "insert into dusky.file (feed, path, version, state, size_bytes, modified_at, seen_at)"
            + " values (?, ?, ?, 'waiting', ?, ?, ?)";
    Timestamp now = Timestamp.from(Instant.now());
    try (PreparedStatement insert = connection.prepareStatement(sql)) {
      for (int i = 0; i < files.size(); i++) {
        if (known.get(i).isEmpty()) {
          StagedFile file = files.get(i);
          insert.setString(1, feed.name());
          insert.setString(2, file.path());
          insert.setString(3, file.version());
          insert.setLong(4, file.size());
          insert.setTimestamp(5, Timestamp.from(file.modified()));
          insert.setTimestamp(6, now);
          insert.addBatch();
        }
      }
      insert.executeBatch();
      connection.commit();
      return true;
    } catch (SQLException e) {
      connection.rollback();
      if (!"23505".equals(e.getSQLState())) {
        throw e;
      }
      return false;
    }
  }

  @Override
  public Optional<FileClaim> of(StagedFile file) {
    return Optional.ofNullable(held.get(file.path())).map(h -> new Member(file, h));
  }

  @Override
  public boolean post() {
    try {
      if (broken || !rows.send() || anyTwin()) {
        connection.rollback();
        return false;
      }
      outcomes.flush();
      connection.commit();
      return true;
    } catch (SQLException e) {
      if (SqlFailures.conflict(e)) {
        warehouse.undo(connection);
        return false; // they are dealt with one by one
      }
      throw warehouse.failures().of("Posting small files of feed " + feed.name(), e);
    }
  }

  /** Whether the content of one of them was posted before. */
  private boolean anyTwin() throws SQLException {
    if (posted.isEmpty()) {
      return false;
    }
    warehouse.dialect().holdContents(connection, feed.name());
    String sql =
        "select 1 from dusky.file where feed = ? and state = 'posted' and fingerprint in ("
            + String.join(", ", Collections.nCopies(posted.size(), "?"))
            + ")";
    try (PreparedStatement query = connection.prepareStatement(sql)) {
      query.setString(1, feed.name());
      int i = 2;
      for (String hash : posted.keySet()) {
        query.setString(i++, hash);
      }
      try (ResultSet row = query.executeQuery()) {
        return row.next();
      }
    }
  }

  @Override
  public void close() {
    outcomes.close();
    warehouse.undo(connection);
  }

  /** The claim on one of the files. */
  private final class Member implements FileClaim {
    private final StagedFile file;
    private final Held held;
    private boolean writing;
    private boolean settled;

    Member(StagedFile file, Held held) {
      this.file = file;
      this.held = held;
    }

    @Override
    public long fileId() {
      return held.fileId();
    }

    @Override
    public RowWriter writer() {
      writing = true;
      try {
        return rows.file(held.fileId());
      } catch (SQLException e) {
        throw warehouse.failures().of("Writing rows of " + file.path(), e);
      }
    }

    @Override
    public void withdraw(String why) {
      throw new IllegalStateException("small files that replace others are dealt with alone");
    }

    @Override
    public String landedMark() {
      throw new IllegalStateException("repeats across files are looked for file by file");
    }

    @Override
    public void landedRows(List<String> columns, LandedRows taker) {
      throw new IllegalStateException("repeats across files are looked for file by file");
    }

    @Override
    public Optional<FileEntry> twinOf(String fingerprint) {
      return Optional.ofNullable(posted.get(fingerprint));
    }

    @Override
    public boolean undoRows() {
      try {
        if (writing) {
          rows.undoFile();
        }
        return true;
      } catch (SQLException e) {
        throw warehouse.failures().of("Undoing the rows of " + file.path(), e);
      }
    }

    @Override
    public void settle(FileOutcome outcome, RejectSpool rejects) {
      if (!held.state().next().contains(outcome.state())) {
        throw new IllegalStateException(
            "a file that is " + held.state().label() + " cannot become " + outcome.state().label());
      }
      try {
        if (rejects.count() > 0 || held.state() != FileState.WAITING) {
          RejectRows.replace(connection, load.id(), held.fileId(), rejects);
        }
        if (outcome.state().settled()) {
          DueRows.enter(
              connection, held.fileId(), file.path(), feed.policies().arrivals().afterwards());
        }
      } catch (SQLException e) {
        throw warehouse.failures().of("Posting " + file.path(), e);
      }
      if (outcome.state() == FileState.POSTED) {
        outcome
            .fingerprint()
            .ifPresent(
                hash ->
                    posted.putIfAbsent(
                        hash,
                        new FileEntry(
                            held.fileId(),
                            file.path(),
                            file.version(),
                            FileState.POSTED,
                            Optional.of(load.id()),
                            Optional.empty(),
                            Optional.empty())));
      }
      outcomes.add(held.fileId(), outcome.taken());
      settled = true;
    }

    @Override
    public void close() {
      broken |= !settled;
    }
  }
}
