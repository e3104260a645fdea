package dev.dusky.warehouses.ledger;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileState;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.Dialect;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.JdbiException;
import org.jdbi.v3.core.statement.StatementContext;

/** Row locks on the ledger's entries of several files of a feed, which end with a transaction. */
final class FileLocks {

  private static final String ENTER =
      """
      insert into dusky.file (feed, path, version, state, size_bytes, modified_at, seen_at)
      select cast(:feed as varchar(200)), u.path, u.version, 'waiting', u.size_bytes,
        cast(u.modified_at as timestamp with time zone), cast(:now as timestamp with time zone)
      from unnest(cast(:paths as varchar array), cast(:versions as varchar array),
        cast(:sizes as bigint array), cast(:times as varchar array))
        as u(path, version, size_bytes, modified_at)""";

  /** The ledger's entry of one of the files. */
  record Held(long fileId, FileState state) {

    /** The entry once a load has posted the file. */
    FileEntry posted(StagedFile file, long loadId) {
      return new FileEntry(
          fileId,
          file.path(),
          file.version(),
          FileState.POSTED,
          Optional.of(loadId),
          Optional.empty(),
          Optional.empty());
    }
  }

  /** The columns that are read with the lock. */
  private record Entry(
      long fileId, String path, String version, FileState state, Optional<Long> load) {

    static Entry read(ResultSet row, StatementContext context) throws SQLException {
      return new Entry(
          row.getLong("file_id"),
          row.getString("path"),
          row.getString("version"),
          FileState.of(row.getString("state")),
          Optional.ofNullable(row.getObject("load_id", Long.class)));
    }
  }

  private final Handle handle;
  private final Dialect dialect;
  private final String feed;
  private final Map<String, Held> held = new HashMap<>();

  FileLocks(Handle handle, Dialect dialect, String feed) {
    this.handle = handle;
    this.dialect = dialect;
    this.feed = feed;
  }

  /**
   * Enters the files that have no entry, and commits that; then locks all that no other load holds
   * or has processed since.
   *
   * @param known what the ledger had of each of them when it was chosen, in the same order
   * @return false if another load enters one of them at this moment
   */
  boolean take(List<StagedFile> files, List<Optional<FileEntry>> known) throws SQLException {
    if (!enter(files, known)) {
      return false;
    }
    lock(files, known);
    return true;
  }

  /** Locks the files again in a new transaction. */
  void lock(List<StagedFile> files, List<Optional<FileEntry>> known) {
    held.clear();
    Map<String, StagedFile> byPath = new HashMap<>();
    Map<String, Optional<Long>> seen = new HashMap<>();
    for (int i = 0; i < files.size(); i++) {
      byPath.put(files.get(i).path(), files.get(i));
      seen.put(files.get(i).path(), known.get(i).flatMap(FileEntry::loadId));
    }
    handle
        .createQuery(
            "select file_id, path, version, state, load_id from dusky.file"
                + " where feed = :feed and path = any(:paths) "
                + dialect.claimClause())
        .bind("feed", feed)
        .bindArray("paths", String.class, files.stream().map(StagedFile::path).toList())
        .map(Entry::read)
        .forEach(
            entry -> {
              boolean same =
                  entry.version().equals(byPath.get(entry.path()).version())
                      && entry.load().equals(seen.get(entry.path()));
              if (same && !entry.state().settled()) {
                held.put(entry.path(), new Held(entry.fileId(), entry.state()));
              }
            });
  }

  private boolean enter(List<StagedFile> files, List<Optional<FileEntry>> known)
      throws SQLException {
    List<StagedFile> unknown = new ArrayList<>();
    for (int i = 0; i < files.size(); i++) {
      if (known.get(i).isEmpty()) {
        unknown.add(files.get(i));
      }
    }
    try {
      handle
          .createUpdate(ENTER)
          .bind("feed", feed)
          .bind("now", Instant.now())
          .bindArray("paths", String.class, unknown.stream().map(StagedFile::path).toList())
          .bindArray("versions", String.class, unknown.stream().map(StagedFile::version).toList())
          .bindArray("sizes", Long.class, unknown.stream().map(StagedFile::size).toList())
          .bindArray(
              "times", String.class, unknown.stream().map(f -> f.modified().toString()).toList())
          .execute();
      handle.getConnection().commit();
      return true;
    } catch (JdbiException e) {
      handle.getConnection().rollback();
      if (!"23505".equals(Database.state(e))) {
        throw e;
      }
      return false;
    }
  }

  /** The lock on one of the files, if it is held. */
  Optional<Held> of(String path) {
    return Optional.ofNullable(held.get(path));
  }
}
