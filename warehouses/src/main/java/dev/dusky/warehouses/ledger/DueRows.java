package dev.dusky.warehouses.ledger;

import dev.dusky.core.depot.ArchiveDepot;
import dev.dusky.core.feed.Afterwards;
import dev.dusky.core.ledger.DueFile;
import dev.dusky.warehouses.connection.Database;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import org.jdbi.v3.core.Handle;

/**
 * Posted files that are still to be archived or removed, in {@code dusky.afterwards}. What is due
 * is entered together with the post, so that another process does it if this one dies in between.
 */
final class DueRows {

  private final Database database;

  DueRows(Database database) {
    this.database = database;
  }

  /** Enters what is due for a file, in the transaction that posts it. */
  static void enter(Handle handle, long fileId, String path, Afterwards afterwards) {
    if (afterwards instanceof Afterwards.Leave || ArchiveDepot.isMember(path)) {
      return;
    }
    String target = afterwards instanceof Afterwards.Archive archive ? archive.target(path) : null;
    handle
        .createUpdate("delete from dusky.afterwards where file_id = :file")
        .bind("file", fileId)
        .execute();
    handle
        .createUpdate(
            "insert into dusky.afterwards (file_id, target, due_at) values (:file, :target, :at)")
        .bind("file", fileId)
        .bind("target", target)
        .bind("at", Instant.now())
        .execute();
  }

  List<DueFile> of(String feed) {
    return database.transact(
        "Looking for files to be archived or removed",
        h ->
            h.createQuery(
                    "select f.file_id, f.path, f.version, a.target from dusky.afterwards a"
                        + " join dusky.file f on f.file_id = a.file_id"
                        + " where f.feed = :feed and a.done_at is null order by f.file_id")
                .bind("feed", feed)
                .map(
                    (row, context) ->
                        new DueFile(
                            row.getLong("file_id"),
                            row.getString("path"),
                            row.getString("version"),
                            Optional.ofNullable(row.getString("target"))))
                .list());
  }

  /** On a connection that is used for nothing else, since moving files may take long. */
  void settle(List<DueFile> files, Function<DueFile, Optional<DueFile>> work) {
    if (files.isEmpty()) {
      return;
    }
    Handle own = database.connect();
    try {
      database.runOrUndo(
          own,
          "Noting what became of posted files",
          h -> {
            for (DueFile file : files) {
              Optional<DueFile> done = lock(h, file) ? work.apply(file) : Optional.empty();
              done.ifPresent(moved -> mark(h, moved));
              h.getConnection().commit();
            }
            return null;
          });
    } finally {
      database.release(own);
    }
  }

  /** False if another process works on it or has done it. */
  private boolean lock(Handle handle, DueFile file) {
    return handle
        .createQuery(
            "select 1 from dusky.afterwards where file_id = :file and done_at is null "
                + database.dialect().claimClause())
        .bind("file", file.fileId())
        .mapTo(Integer.class)
        .findFirst()
        .isPresent();
  }

  private static void mark(Handle handle, DueFile file) {
    handle
        .createUpdate(
            "update dusky.afterwards set done_at = :at, target = :target where file_id = :file")
        .bind("at", Instant.now())
        .bind("target", file.target().orElse(null))
        .bind("file", file.fileId())
        .execute();
  }
}
