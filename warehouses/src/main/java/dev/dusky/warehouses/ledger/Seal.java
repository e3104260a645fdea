package dev.dusky.warehouses.ledger;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import org.jdbi.v3.core.Handle;

/**
 * The checksum of an entry of the ledger, written with it: {@code balance} finds entries that were
 * changed since. It guards against slips and stray statements, not against forgers, who can work it
 * out as well.
 */
public final class Seal {

  /** The columns of a tally that never change. */
  public static final String TALLY =
      "load_id, file_id, state, read_rows, loaded_rows, duplicate_rows, rejected_rows,"
          + " filtered_rows, withheld_rows";

  /** The columns of a merge's run that never change. */
  public static final String MERGE =
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
  public static String of(ResultSet row) throws SQLException {
    return of(row, row.getMetaData().getColumnCount() - 1);
  }

  /** The checksum over the first columns of a row. */
  public static String of(ResultSet row, int columns) throws SQLException {
    Object[] values = new Object[columns];
    for (int i = 0; i < values.length; i++) {
      values[i] = row.getString(i + 1);
    }
    return of(values);
  }

  /** Seals a tally that a statement has written, in the same transaction. */
  static void tally(Handle handle, long load, long file) {
    write(
        handle,
        TALLY,
        "dusky.tally",
        "load_id = :load and file_id = :file",
        Map.of("load", load, "file", file));
  }

  /** Seals the run of a merge that a statement has written, in the same transaction. */
  public static void merge(Handle handle, long merge) {
    write(handle, MERGE, "dusky.merge_run", "merge_id = :merge", Map.of("merge", merge));
  }

  private static void write(
      Handle handle, String columns, String table, String where, Map<String, Long> keys) {
    List<String> seals =
        handle
            .createQuery("select %s, seal from %s where %s".formatted(columns, table, where))
            .bindMap(keys)
            .map((row, context) -> of(row))
            .list();
    for (String seal : seals) {
      handle
          .createUpdate("update %s set seal = :seal where %s".formatted(table, where))
          .bindMap(keys)
          .bind("seal", seal)
          .execute();
    }
  }
}
