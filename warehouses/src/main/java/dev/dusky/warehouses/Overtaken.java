package dev.dusky.warehouses;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.stream.Collectors;

/**
 * Versions of files that were seen, but replaced in the depot before anybody dealt with them: once
 * a later version is settled their entries, to which nothing refers, go.
 */
final class Overtaken {

  /** An entry that says no more than that the file was seen. */
  private static final String ONLY_SEEN =
      "o.state = 'waiting' and o.load_id is null"
          + " and not exists (select 1 from dusky.tally t where t.file_id = o.file_id)"
          + " and not exists (select 1 from dusky.drift d where d.file_id = o.file_id)";

  private Overtaken() {}

  /** Removes the entries that files with these ids have overtaken. */
  static void remove(Connection connection, Dialect dialect, Collection<Long> settled)
      throws SQLException {
    String ids = settled.stream().map(String::valueOf).collect(Collectors.joining(", "));
    List<Long> overtaken = new ArrayList<>();
    try (Statement query = connection.createStatement();
        ResultSet row =
            query.executeQuery(
                "select o.file_id from dusky.file f join dusky.file o on o.feed = f.feed"
                    + " and o.path = f.path and o.file_id <> f.file_id where f.file_id in ("
                    + ids
                    + ") and "
                    + ONLY_SEEN)) {
      while (row.next()) {
        overtaken.add(row.getLong(1));
      }
    }
    for (long file : overtaken) {
      if (held(connection, dialect, file)) {
        try (PreparedStatement delete =
            connection.prepareStatement("delete from dusky.file where file_id = ?")) {
          delete.setLong(1, file);
          delete.executeUpdate();
        }
      }
    }
  }

  /** Whether the entry is still what it was and is now held; another process may hold it. */
  private static boolean held(Connection connection, Dialect dialect, long file)
      throws SQLException {
    String sql =
        "select o.file_id from dusky.file o where o.file_id = ? and "
            + ONLY_SEEN
            + " "
            + dialect.claimClause();
    try (PreparedStatement query = connection.prepareStatement(sql)) {
      query.setLong(1, file);
      try (ResultSet row = query.executeQuery()) {
        return row.next();
      }
    }
  }
}
