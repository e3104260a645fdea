package dev.dusky.warehouses.ledger;

import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.ledger.PostedRows;
import dev.dusky.core.ledger.RowRemoval;
import java.sql.SQLException;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.statement.Query;

/**
 * Reverses tallies: a removal deletes the rows, and a load of kind reverse has the negative of each
 * tally. Earlier entries stay. All of it is part of the connection's transaction, which the caller
 * commits.
 */
public final class Reversal {

  private final Handle handle;
  private final LoadStart start;
  private final RowRemoval removal;
  private FileState after = FileState.REVERSED;
  private LoadKind kind = LoadKind.REVERSE;
  private long reverseLoad;

  /** A reversal on that connection. */
  public Reversal(Handle handle, LoadStart start, RowRemoval removal) {
    this.handle = handle;
    this.start = start;
    this.removal = removal;
  }

  /** The same for rows that another load replaces; mended rejects stay so. */
  Reversal replacing() {
    after = FileState.REPLACED;
    kind = LoadKind.REPLACE;
    return this;
  }

  /** The number of the reversing load, or 0 if there was nothing to reverse. */
  public long loadId() {
    return reverseLoad;
  }

  /** Reverses all that is in force of the file under that path; false if nothing is. */
  boolean path(String path, String why) throws SQLException {
    List<PostedRows> posted = inForceOf(handle, start.feed(), path);
    if (posted.isEmpty()) {
      return false;
    }
    reverse(posted, why);
    return true;
  }

  /** The tallies in force of a path that brought rows. */
  static List<PostedRows> inForceOf(Handle handle, String feed, String path) {
    return inForce(handle, "f.feed = :feed and f.path = :path", Map.of("feed", feed, "path", path))
        .stream()
        .filter(posted -> !posted.twin())
        .toList();
  }

  /** The tallies in force that a condition with named parameters chooses. */
  public static List<PostedRows> inForce(
      Handle handle, String condition, Map<String, Object> parameters) {
    Query query =
        handle.createQuery(
            """
            select t.load_id, t.file_id, f.path, t.state, t.loaded_rows
            from dusky.tally t join dusky.file f on f.file_id = t.file_id
            where t.reversed_by is null and t.state in ('posted', 'mended', 'twin') and %s
            order by f.path, t.load_id"""
                .formatted(condition));
    return query
        .bindMap(parameters)
        .map(
            (row, context) ->
                new PostedRows(
                    row.getLong("load_id"),
                    row.getLong("file_id"),
                    row.getString("path"),
                    row.getString("state"),
                    row.getLong("loaded_rows")))
        .list();
  }

  /**
   * Reverses these tallies.
   *
   * @return how many rows were deleted
   */
  public long reverse(List<PostedRows> all, String why) throws SQLException {
    reverseLoad = LoadRows.insert(handle, start.as(kind));
    long removed = 0;
    for (PostedRows posted : all) {
      removed += remove(posted);
      Map<String, Object> keys =
          Map.of("by", reverseLoad, "load", posted.loadId(), "file", posted.fileId());
      run(
          "update dusky.tally set reversed_by = :by where load_id = :load and file_id = :file",
          keys);
      run(
          "update dusky.merge_reject set state = 'reversed'"
              + " where load_id = :load and file_id = :file and state = 'open'",
          keys);
      if (posted.mended() && after == FileState.REVERSED) { // their rejects are open again
        run(
            "update dusky.reject set state = 'open', settled_at = null, settled_by = null,"
                + " settled_load = null where settled_load = :load and file_id = :file",
            keys);
      }
    }
    for (long file : all.stream().map(PostedRows::fileId).distinct().toList()) {
      enter(file, why);
      if (all.stream().anyMatch(p -> p.fileId() == file && !p.mended())) {
        release(file, why);
      }
    }
    LoadRows.end(handle, reverseLoad, LoadState.DONE, why);
    return removed;
  }

  private long remove(PostedRows posted) throws SQLException {
    long gone = posted.twin() ? 0 : removal.takeOut(posted.loadId(), posted.fileId());
    if (gone != posted.loaded()) {
      throw new SQLException(
          "of %s load %d posted %,d rows, but the table has %,d of them; nothing was changed"
              .formatted(posted.path(), posted.loadId(), posted.loaded(), gone));
    }
    return gone;
  }

  /** The reversing entry of a file: the negative of all that this reversal undoes. */
  private void enter(long file, String why) throws SQLException {
    Map<String, Object> keys =
        Map.of("by", reverseLoad, "file", file, "why", why, "now", Instant.now());
    run(
        """
        insert into dusky.tally (load_id, file_id, state, read_rows, loaded_rows, duplicate_rows,
          rejected_rows, filtered_rows, withheld_rows, stored_bytes, content_bytes, elapsed_ms,
          message, written_at)
        select cast(:by as bigint), file_id, 'reversed', -sum(read_rows), -sum(loaded_rows),
          -sum(duplicate_rows), -sum(rejected_rows), -sum(filtered_rows), 0, 0, 0, 0,
          cast(:why as varchar(4000)), cast(:now as timestamp with time zone)
        from dusky.tally where reversed_by = :by and file_id = :file group by file_id""",
        keys);
    Seal.tally(handle, reverseLoad, file);
    run(
        """
        insert into dusky.control_total (load_id, file_id, column_name, loaded_total, other_total,
          duplicate_total)
        select cast(:by as bigint), c.file_id, c.column_name, -sum(c.loaded_total),
          -sum(c.other_total), -sum(c.duplicate_total)
        from dusky.control_total c
        join dusky.tally t on t.load_id = c.load_id and t.file_id = c.file_id
        where t.reversed_by = :by and c.file_id = :file group by c.file_id, c.column_name""",
        keys);
  }

  /** The file is no longer posted; its open rejects are waived with the reason. */
  private void release(long file, String why) {
    Map<String, Object> keys =
        Map.of(
            "by",
            reverseLoad,
            "file",
            file,
            "why",
            why,
            "now",
            Instant.now(),
            "person",
            start.startedBy(),
            "state",
            after.label());
    run(
        "update dusky.reject set state = 'waived', settled_at = :now, settled_by = :person,"
            + " reason = :why where file_id = :file and state = 'open'",
        keys);
    run(
        "update dusky.file set state = :state, load_id = :by, message = :why,"
            + " settled_at = :now where file_id = :file",
        keys);
  }

  private void run(String sql, Map<String, Object> parameters) {
    handle.createUpdate(sql).bindMap(parameters).execute();
  }
}
