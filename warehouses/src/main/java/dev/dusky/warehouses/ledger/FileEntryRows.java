package dev.dusky.warehouses.ledger;

import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileState;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.statement.StatementContext;

/** Reads entries of {@code dusky.file}. */
final class FileEntryRows {

  static final String COLUMNS = "file_id, path, version, state, load_id, message, declared";

  private FileEntryRows() {}

  /** The entry of a row with {@link #COLUMNS}. */
  static FileEntry read(ResultSet row, StatementContext context) throws SQLException {
    return new FileEntry(
        row.getLong("file_id"),
        row.getString("path"),
        row.getString("version"),
        FileState.of(row.getString("state")),
        Optional.ofNullable(row.getObject("load_id", Long.class)),
        Optional.ofNullable(row.getString("message")),
        Optional.ofNullable(row.getString("declared")));
  }

  /** A posted file of the feed with this content, other than the given one. */
  static Optional<FileEntry> twin(Handle handle, String feed, String fingerprint, long except) {
    return handle
        .createQuery(
            "select "
                + COLUMNS
                + " from dusky.file where feed = :feed and fingerprint = :fingerprint"
                + " and state = 'posted' and file_id <> :except order by file_id")
        .bind("feed", feed)
        .bind("fingerprint", fingerprint)
        .bind("except", except)
        .map(FileEntryRows::read)
        .findFirst();
  }

  /** The entries of a feed from a path on; the two parts of SQL order paths by their bytes. */
  static List<FileEntry> from(
      Handle handle, String feed, String path, String condition, String order, int most) {
    return handle
        .createQuery(
            "select %s from dusky.file where feed = :feed and %s order by %s, file_id limit :most"
                .formatted(COLUMNS, condition, order))
        .bind("feed", feed)
        .bind("path", path)
        .bind("most", most)
        .map(FileEntryRows::read)
        .list();
  }
}
