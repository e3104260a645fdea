package dev.dusky.warehouses;

import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.table.TableShape;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;

/**
 * Takes the rows of posted files out of the landing table, by provenance, and books it: a load of
 * kind reverse with the negative of each tally. What was booked before stays. All of it is part of
 * the connection's transaction, which somebody else commits.
 */
final class Reversal {

  /** A tally in force: what a load posted, or mended, of a file. */
  record Posted(long loadId, long fileId, String path, String state, long loaded) {}

  private final Connection connection;
  private final LoadStart start;
  private final TableShape table;
  private long reverseLoad;

  Reversal(Connection connection, LoadStart start, TableShape table) {
    this.connection = connection;
    this.start = start;
    this.table = table;
  }

  /** The number of the reversing load, or 0 if there was nothing to reverse. */
  long loadId() {
    return reverseLoad;
  }

  /** Reverses all that is in force of the file under that path; false if nothing is. */
  boolean path(String path, String why) throws SQLException {
    List<Posted> posted = posted("f.feed = ? and f.path = ?", List.of(start.feed(), path));
    posted.removeIf(p -> p.state().equals("twin"));
    if (posted.isEmpty()) {
      return false;
    }
    reverse(posted, why);
    return true;
  }

  /** The tallies in force that a condition chooses. */
  List<Posted> posted(String condition, List<Object> parameters) throws SQLException {
    String sql =
        """
        select t.load_id, t.file_id, f.path, t.state, t.loaded_rows
        from dusky.tally t join dusky.file f on f.file_id = t.file_id
        where t.reversed_by is null and t.state in ('posted', 'mended', 'twin') and %s
        order by f.path, t.load_id"""
            .formatted(condition);
    List<Posted> posted = new ArrayList<>();
    try (PreparedStatement query = connection.prepareStatement(sql)) {
      for (int i = 0; i < parameters.size(); i++) {
        query.setObject(i + 1, parameters.get(i));
      }
      try (ResultSet row = query.executeQuery()) {
        while (row.next()) {
          posted.add(
              new Posted(
                  row.getLong(1),
                  row.getLong(2),
                  row.getString(3),
                  row.getString(4),
                  row.getLong(5)));
        }
      }
    }
    return posted;
  }

  /**
   * Reverses these tallies.
   *
   * @return how many rows were taken out
   */
  long reverse(List<Posted> all, String why) throws SQLException {
    reverseLoad = JdbcLedger.insert(connection, start.as(LoadKind.REVERSE));
    long removed = 0;
    for (Posted posted : all) {
      long gone = delete(posted);
      if (gone != posted.loaded()) {
        throw new SQLException(
            "of %s load %d posted %,d rows, but the table has %,d of them; nothing was changed"
                .formatted(posted.path(), posted.loadId(), posted.loaded(), gone));
      }
      removed += gone;
      run(
          "update dusky.tally set reversed_by = ? where load_id = ? and file_id = ?",
          reverseLoad,
          posted.loadId(),
          posted.fileId());
      run(
          "update dusky.merge_reject set state = 'reversed'"
              + " where load_id = ? and file_id = ? and state = 'open'",
          posted.loadId(),
          posted.fileId());
      if (posted.state().equals("mended")) {
        reopen(posted);
      }
    }
    for (long file : all.stream().map(Posted::fileId).distinct().toList()) {
      book(file, why);
      boolean whole = all.stream().anyMatch(p -> p.fileId() == file && !p.state().equals("mended"));
      if (whole) {
        release(file, why);
      }
    }
    JdbcRunningLoad.end(connection, reverseLoad, LoadState.DONE, why);
    return removed;
  }

  private long delete(Posted posted) throws SQLException {
    if (!posted.state().equals("twin") && table.hasProvenance()) {
      return run(
          "delete from %s where dusky_load = ? and dusky_file = ?"
              .formatted(Identifiers.quote(table.name())),
          posted.loadId(),
          posted.fileId());
    }
    return 0;
  }

  /** Taking out mended rows alone makes their rejects open again. */
  private void reopen(Posted posted) throws SQLException {
    run(
        "update dusky.reject set state = 'open', settled_at = null, settled_by = null,"
            + " settled_load = null where settled_load = ? and file_id = ?",
        posted.loadId(),
        posted.fileId());
  }

  /** The reversing entry of a file: the negative of all that this reversal undoes. */
  private void book(long file, String why) throws SQLException {
    run(
        """
        insert into dusky.tally (load_id, file_id, state, read_rows, loaded_rows, duplicate_rows,
          rejected_rows, filtered_rows, withheld_rows, stored_bytes, content_bytes, elapsed_ms,
          message, written_at)
        select cast(? as bigint), file_id, 'reversed', -sum(read_rows), -sum(loaded_rows),
          -sum(duplicate_rows), -sum(rejected_rows), -sum(filtered_rows), 0, 0, 0, 0,
          cast(? as varchar(4000)), cast(? as timestamp with time zone)
        from dusky.tally where reversed_by = ? and file_id = ? group by file_id""",
        reverseLoad,
        why,
        Timestamp.from(Instant.now()),
        reverseLoad,
        file);
    Seal.write(
        connection, Seal.TALLY, "dusky.tally", "load_id = ? and file_id = ?", reverseLoad, file);
    run(
        """
        insert into dusky.control_total (load_id, file_id, column_name, loaded_total, other_total,
          duplicate_total)
        select cast(? as bigint), c.file_id, c.column_name, -sum(c.loaded_total),
          -sum(c.other_total), -sum(c.duplicate_total)
        from dusky.control_total c
        join dusky.tally t on t.load_id = c.load_id and t.file_id = c.file_id
        where t.reversed_by = ? and c.file_id = ? group by c.file_id, c.column_name""",
        reverseLoad,
        reverseLoad,
        file);
  }

  /** The file waits again; what was open of its rejects is closed with the reason. */
  private void release(long file, String why) throws SQLException {
    Timestamp now = Timestamp.from(Instant.now());
    run(
        "update dusky.reject set state = 'waived', settled_at = ?, settled_by = ?, reason = ?"
            + " where file_id = ? and state = 'open'",
        now,
        start.startedBy(),
        why,
        file);
    run(
        "update dusky.file set state = 'reversed', load_id = ?, message = ?, settled_at = ?"
            + " where file_id = ?",
        reverseLoad,
        why,
        now,
        file);
  }

  private long run(String sql, Object... parameters) throws SQLException {
    try (PreparedStatement statement = connection.prepareStatement(sql)) {
      for (int i = 0; i < parameters.length; i++) {
        statement.setObject(i + 1, parameters[i]);
      }
      return statement.executeLargeUpdate();
    }
  }
}
