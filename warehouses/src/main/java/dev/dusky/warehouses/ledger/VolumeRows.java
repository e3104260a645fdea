package dev.dusky.warehouses.ledger;

import dev.dusky.core.expect.Volume;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jdbi.v3.core.Handle;

/** Writes the null counts of a file, and reads the volumes of files. */
final class VolumeRows {

  private VolumeRows() {}

  static void insert(Connection connection, long load, long file, Map<String, Long> nulls)
      throws SQLException {
    if (nulls.isEmpty()) {
      return;
    }
    try (PreparedStatement insert =
        connection.prepareStatement(
            "insert into dusky.null_count (load_id, file_id, column_name, null_rows)"
                + " values (?, ?, ?, ?)")) {
      for (Map.Entry<String, Long> count : nulls.entrySet()) {
        insert.setLong(1, load);
        insert.setLong(2, file);
        insert.setString(3, count.getKey());
        insert.setLong(4, count.getValue());
        insert.addBatch();
      }
      insert.executeBatch();
    }
  }

  private record Key(long load, long file) {}

  /** The volumes of the files that a feed posted last, the newest first. */
  static List<Volume> last(Handle handle, String feed, int most) {
    String files =
        """
        select t.load_id, t.file_id, f.path, t.written_at, t.read_rows, t.stored_bytes,
          t.rejected_rows, t.loaded_rows
        from dusky.tally t join dusky.file f on f.file_id = t.file_id
        where f.feed = :feed and t.state = 'posted' and t.reversed_by is null
        order by t.written_at desc, t.load_id desc, t.file_id desc fetch first :most rows only""";
    Map<Key, Map<String, Long>> nulls = new HashMap<>();
    handle
        .createQuery(
            "select n.load_id, n.file_id, n.column_name, n.null_rows from dusky.null_count n join ("
                + files
                + ") v on v.load_id = n.load_id and v.file_id = n.file_id")
        .bind("feed", feed)
        .bind("most", most)
        .map(
            (row, context) ->
                nulls
                    .computeIfAbsent(
                        new Key(row.getLong("load_id"), row.getLong("file_id")),
                        key -> new HashMap<>())
                    .put(row.getString("column_name"), row.getLong("null_rows")))
        .list();
    return handle
        .createQuery(files)
        .bind("feed", feed)
        .bind("most", most)
        .map(
            (row, context) ->
                new Volume(
                    row.getString("path"),
                    row.getTimestamp("written_at").toInstant(),
                    row.getLong("read_rows"),
                    row.getLong("stored_bytes"),
                    row.getLong("rejected_rows"),
                    row.getLong("loaded_rows"),
                    nulls.getOrDefault(
                        new Key(row.getLong("load_id"), row.getLong("file_id")), Map.of())))
        .list();
  }
}
