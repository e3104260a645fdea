package dev.dusky.warehouses.ledger;

import dev.dusky.warehouses.connection.Dialect;
import java.util.List;
import org.jdbi.v3.core.Handle;

/**
 * Versions of files that were seen, but replaced in the depot before a load processed them. Once a
 * later version is settled their entries, to which nothing refers, are deleted.
 */
final class Overtaken {

  /** An entry that says no more than that the file was seen. */
  private static final String ONLY_SEEN =
      "o.state = 'waiting' and o.load_id is null"
          + " and not exists (select 1 from dusky.tally t where t.file_id = o.file_id)"
          + " and not exists (select 1 from dusky.drift d where d.file_id = o.file_id)";

  private Overtaken() {}

  /** Deletes the entries that these settled files have overtaken. */
  static void remove(Handle handle, Dialect dialect, List<Long> settled) {
    List<Long> overtaken =
        handle
            .createQuery(
                "select o.file_id from dusky.file f join dusky.file o on o.feed = f.feed"
                    + " and o.path = f.path and o.file_id <> f.file_id"
                    + " where f.file_id = any(:settled) and "
                    + ONLY_SEEN)
            .bindArray("settled", Long.class, settled)
            .mapTo(Long.class)
            .list();
    for (long file : overtaken) {
      if (held(handle, dialect, file)) {
        handle
            .createUpdate("delete from dusky.file where file_id = :file")
            .bind("file", file)
            .execute();
      }
    }
  }

  /** Whether the entry is still what it was and is now held; another process may hold it. */
  private static boolean held(Handle handle, Dialect dialect, long file) {
    return handle
        .createQuery(
            "select o.file_id from dusky.file o where o.file_id = :file and "
                + ONLY_SEEN
                + " "
                + dialect.claimClause())
        .bind("file", file)
        .mapTo(Long.class)
        .findFirst()
        .isPresent();
  }
}
