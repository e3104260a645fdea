package dev.dusky.warehouses.ledger;

import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.tally.Tally;
import dev.dusky.warehouses.connection.Dialect;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.sql.Types;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.jdbi.v3.core.Handle;

/**
 * The outcomes of files in {@code dusky.file} and {@code dusky.tally}, several at once. Hot for
 * many small files, so it uses JDBC batches directly.
 */
final class FileRows implements AutoCloseable {

  private static final String UPDATE =
      "update dusky.file set state = ?, load_id = ?, fingerprint = ?, twin_of = ?, message = ?,"
          + " settled_at = ?, preamble = ?, declared = ? where file_id = ?";

  private static final String INSERT =
      "insert into dusky.tally (load_id, file_id, state, read_rows, loaded_rows, duplicate_rows,"
          + " rejected_rows, filtered_rows, withheld_rows, stored_bytes, content_bytes,"
          + " elapsed_ms, message, written_at, expected_rows, repeats_seen, seal)"
          + " values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)";

  /** The outcome of one file. */
  private record Settled(long fileId, FileOutcome outcome) {}

  private final Handle handle;
  private final Connection connection;
  private final Dialect dialect;
  private final JdbcRunningLoad load;
  private final List<Settled> files = new ArrayList<>();

  FileRows(Handle handle, Dialect dialect, JdbcRunningLoad load) {
    this.handle = handle;
    this.connection = handle.getConnection();
    this.dialect = dialect;
    this.load = load;
  }

  void add(long fileId, FileOutcome outcome) {
    files.add(new Settled(fileId, outcome));
  }

  /** Writes them, their control totals, repeats and drifts, and releases them. */
  void flush() throws SQLException {
    Timestamp now = Timestamp.from(Instant.now());
    try (PreparedStatement update = connection.prepareStatement(UPDATE);
        PreparedStatement insert = connection.prepareStatement(INSERT)) {
      for (Settled file : files) {
        insert(insert, file, now);
      }
      insert.executeBatch();
      for (Settled file : files) {
        update(update, file, now);
      }
      update.executeBatch();
    }
    for (Settled file : files) {
      FileOutcome outcome = file.outcome();
      TotalRows.insert(connection, load.id(), file.fileId(), outcome.totals());
      RepeatRows.insert(connection, load.id(), file.fileId(), outcome.repeats());
      DriftRows.insert(connection, load.id(), file.fileId(), outcome.drifts());
    }
    if (!files.isEmpty()) {
      Overtaken.remove(handle, dialect, files.stream().map(Settled::fileId).toList());
    }
    close();
  }

  /** Releases what was not written. */
  @Override
  public void close() {
    for (Settled file : files) {
      if (file.outcome().repeats().left() != null) {
        file.outcome().repeats().left().close();
      }
    }
    files.clear();
  }

  private void update(PreparedStatement update, Settled file, Timestamp now) throws SQLException {
    FileOutcome outcome = file.outcome();
    update.setString(1, outcome.state().label());
    update.setLong(2, load.id());
    update.setString(3, outcome.fingerprint().orElse(null));
    if (outcome.twinOf().isPresent()) {
      update.setLong(4, outcome.twinOf().get().fileId());
    } else {
      update.setNull(4, Types.BIGINT);
    }
    update.setString(5, message(outcome));
    update.setTimestamp(6, now);
    update.setBytes(7, outcome.preamble());
    update.setString(8, load.start().declaredHash());
    update.setLong(9, file.fileId());
    update.addBatch();
  }

  private void insert(PreparedStatement insert, Settled file, Timestamp now) throws SQLException {
    FileOutcome outcome = file.outcome();
    Tally tally = outcome.tally();
    insert.setLong(1, load.id());
    insert.setLong(2, file.fileId());
    insert.setString(3, outcome.state().label());
    insert.setLong(4, tally.read());
    insert.setLong(5, tally.loaded());
    insert.setLong(6, tally.duplicate());
    insert.setLong(7, tally.rejected());
    insert.setLong(8, tally.filtered());
    insert.setLong(9, tally.withheld());
    insert.setLong(10, outcome.storedBytes());
    insert.setLong(11, outcome.contentBytes());
    insert.setLong(12, outcome.elapsed().toMillis());
    insert.setString(13, message(outcome));
    insert.setTimestamp(14, now);
    insert.setObject(15, outcome.expectedRows().orElse(null), Types.BIGINT);
    insert.setObject(16, outcome.repeats().seen().orElse(null), Types.BIGINT);
    insert.setString(
        17,
        Seal.of(
            load.id(),
            file.fileId(),
            outcome.state().label(),
            tally.read(),
            tally.loaded(),
            tally.duplicate(),
            tally.rejected(),
            tally.filtered(),
            tally.withheld()));
    insert.addBatch();
  }

  private static String message(FileOutcome outcome) {
    return outcome.message().isEmpty() ? null : LedgerText.fit(outcome.message(), 4000);
  }
}
