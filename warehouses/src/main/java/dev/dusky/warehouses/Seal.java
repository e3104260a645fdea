package dev.dusky.warehouses;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

/**
 * The checksum of an entry of the ledger, written with it: {@code balance} finds entries that were
 * changed since. It guards against slips and stray statements, not against forgers, who can work it
 * out as well.
 */
final class Seal {

  /** What of a tally never changes. */
  static final String TALLY =
      "load_id, file_id, state, read_rows, loaded_rows, duplicate_rows, rejected_rows,"
          + " filtered_rows, withheld_rows";

  /** What of a merge's run never changes. */
  static final String MERGE =
      "merge_id, merge_name, into_table, landed_rows, inserted_rows, updated_rows, unchanged_rows,"
          + " superseded_rows, deleted_rows, rejected_rows, missing_rows, added_rows, removed_rows,"
          + " rows_before";

  private Seal() {}

  /** The checksum over values in their order: half of a SHA-256, in hexadecimal. */
  static String of(Object... values) {
    StringBuilder text = new StringBuilder();
    for (Object value : values) {
      text.append(value).append('|');
    }
    try {
      byte[] digest =
          MessageDigest.getInstance("SHA-256")
              .digest(text.toString().getBytes(StandardCharsets.UTF_8));
      return java.util.HexFormat.of().formatHex(digest, 0, digest.length / 2);
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java has SHA-256", e);
    }
  }

  /** The checksum over a row's columns but the last, which holds the checksum that was written. */
  static String of(ResultSet row) throws SQLException {
    Object[] values = new Object[row.getMetaData().getColumnCount() - 1];
    for (int i = 0; i < values.length; i++) {
      values[i] = row.getString(i + 1);
    }
    return of(values);
  }

  /** Seals entries that a statement has written, in the same transaction. */
  static void write(Connection connection, String columns, String table, String where, long... keys)
      throws SQLException {
    List<String> seals = new ArrayList<>();
    String select = "select %s, seal from %s where %s".formatted(columns, table, where);
    try (PreparedStatement query = connection.prepareStatement(select)) {
      set(query, 1, keys);
      try (ResultSet row = query.executeQuery()) {
        while (row.next()) {
          seals.add(of(row));
        }
      }
    }
    String update = "update %s set seal = ? where %s".formatted(table, where);
    try (PreparedStatement change = connection.prepareStatement(update)) {
      for (String seal : seals) {
        change.setString(1, seal);
        set(change, 2, keys);
        change.executeUpdate();
      }
    }
  }

  private static void set(PreparedStatement statement, int from, long[] keys) throws SQLException {
    for (int i = 0; i < keys.length; i++) {
      statement.setLong(from + i, keys[i]);
    }
  }
}
