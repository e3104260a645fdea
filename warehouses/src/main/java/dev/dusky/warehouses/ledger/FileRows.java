package dev.dusky.warehouses.ledger;

import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.tally.Tally;
import dev.dusky.warehouses.connection.Dialect;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import java.util.function.IntFunction;
import org.jdbi.v3.core.Handle;

/**
 * The outcomes of files in {@code dusky.file} and {@code dusky.tally}, several at once. Hot for
 * many small files: each table is changed by one statement for all of them.
 */
final class FileRows implements AutoCloseable {

  private static final String UPDATE =
      """
      merge into dusky.file f using (
        select * from unnest(cast(? as varchar array), cast(? as varchar array),
          cast(? as bigint array), cast(? as varchar array), cast(? as ${bytes} array),
          cast(? as bigint array))
          as u(state, fingerprint, twin_of, message, preamble, file_id)
      ) s on (f.file_id = s.file_id)
      when matched then update set state = s.state, load_id = ?, fingerprint = s.fingerprint,
        twin_of = s.twin_of, message = s.message, settled_at = ?, preamble = s.preamble,
        declared = ?""";

  private static final String INSERT =
      """
      insert into dusky.tally (file_id, state, read_rows, loaded_rows, duplicate_rows,
        rejected_rows, filtered_rows, withheld_rows, stored_bytes, content_bytes, elapsed_ms,
        message, expected_rows, repeats_seen, seal, load_id, written_at)
      select u.*, cast(? as bigint), cast(? as timestamp with time zone)
      from unnest(cast(? as bigint array), cast(? as varchar array), cast(? as bigint array),
        cast(? as bigint array), cast(? as bigint array), cast(? as bigint array),
        cast(? as bigint array), cast(? as bigint array), cast(? as bigint array),
        cast(? as bigint array), cast(? as bigint array), cast(? as varchar array),
        cast(? as bigint array), cast(? as bigint array), cast(? as varchar array)) as u""";

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
    if (files.isEmpty()) {
      return;
    }
    Timestamp now = Timestamp.from(Instant.now());
    insert(now);
    update(now);
    for (Settled file : files) {
      FileOutcome outcome = file.outcome();
      TotalRows.insert(connection, load.id(), file.fileId(), outcome.totals());
      VolumeRows.insert(connection, load.id(), file.fileId(), outcome.nulls());
      RepeatRows.insert(connection, load.id(), file.fileId(), outcome.repeats());
      DriftRows.insert(connection, load.id(), file.fileId(), outcome.drifts());
    }
    Overtaken.remove(handle, dialect, files.stream().map(Settled::fileId).toList());
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

  private void update(Timestamp now) throws SQLException {
    String sql = UPDATE.replace("${bytes}", dialect.bytesType());
    try (PreparedStatement update = connection.prepareStatement(sql)) {
      int next = 1;
      texts(update, next++, file -> file.outcome().state().label());
      texts(update, next++, file -> file.outcome().fingerprint().orElse(null));
      numbers(update, next++, file -> file.outcome().twinOf().map(FileEntry::fileId).orElse(null));
      texts(update, next++, file -> message(file.outcome()));
      array(update, next++, dialect.bytesType(), byte[][]::new, file -> file.outcome().preamble());
      numbers(update, next++, Settled::fileId);
      update.setLong(next++, load.id());
      update.setTimestamp(next++, now);
      update.setString(next, load.start().declaredHash());
      update.executeUpdate();
    }
  }

  private void insert(Timestamp now) throws SQLException {
    try (PreparedStatement insert = connection.prepareStatement(INSERT)) {
      int next = 1;
      insert.setLong(next++, load.id());
      insert.setTimestamp(next++, now);
      numbers(insert, next++, Settled::fileId);
      texts(insert, next++, file -> file.outcome().state().label());
      numbers(insert, next++, file -> file.outcome().tally().read());
      numbers(insert, next++, file -> file.outcome().tally().loaded());
      numbers(insert, next++, file -> file.outcome().tally().duplicate());
      numbers(insert, next++, file -> file.outcome().tally().rejected());
      numbers(insert, next++, file -> file.outcome().tally().filtered());
      numbers(insert, next++, file -> file.outcome().tally().withheld());
      numbers(insert, next++, file -> file.outcome().storedBytes());
      numbers(insert, next++, file -> file.outcome().contentBytes());
      numbers(insert, next++, file -> file.outcome().elapsed().toMillis());
      texts(insert, next++, file -> message(file.outcome()));
      numbers(insert, next++, file -> file.outcome().expectedRows().orElse(null));
      numbers(insert, next++, file -> file.outcome().repeats().seen().orElse(null));
      texts(insert, next, this::seal);
      insert.executeUpdate();
    }
  }

  private String seal(Settled file) {
    Tally tally = file.outcome().tally();
    return Seal.of(
        load.id(),
        file.fileId(),
        file.outcome().state().label(),
        tally.read(),
        tally.loaded(),
        tally.duplicate(),
        tally.rejected(),
        tally.filtered(),
        tally.withheld());
  }

  private void texts(PreparedStatement statement, int index, Function<Settled, String> value)
      throws SQLException {
    array(statement, index, "varchar", String[]::new, value);
  }

  private void numbers(PreparedStatement statement, int index, Function<Settled, Long> value)
      throws SQLException {
    array(statement, index, "bigint", Long[]::new, value);
  }

  /** Binds a value of each file as one array, so that one statement enters all of them. */
  private <T> void array(
      PreparedStatement statement,
      int index,
      String type,
      IntFunction<T[]> making,
      Function<Settled, T> value)
      throws SQLException {
    T[] values = files.stream().map(value).toArray(making);
    statement.setArray(index, connection.createArrayOf(type, values));
  }

  private static String message(FileOutcome outcome) {
    return outcome.message().isEmpty() ? null : LedgerText.fit(outcome.message(), 4000);
  }
}
