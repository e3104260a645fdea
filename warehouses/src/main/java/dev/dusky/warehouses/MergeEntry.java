package dev.dusky.warehouses;

import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.merge.MergeTally;
import dev.dusky.warehouses.merge.MergePlan;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Timestamp;
import java.sql.Types;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** A run of a merge in the ledger: opened, with its rejects and the files it took, completed. */
final class MergeEntry {

  private final Connection connection;
  private final MergePlan plan;
  private final Merge merge;
  private final MergeStart start;
  private final long id;

  private MergeEntry(Connection connection, MergePlan plan, MergeStart start, long id) {
    this.connection = connection;
    this.plan = plan;
    this.merge = plan.merge();
    this.start = start;
    this.id = id;
  }

  /** Opens the entry of a run that will be done, or will not have been at all. */
  static MergeEntry open(Connection connection, MergePlan plan, MergeStart start)
      throws SQLException {
    long id = insert(connection, plan.merge(), start, "done", Optional.empty());
    return new MergeEntry(connection, plan, start, id);
  }

  long id() {
    return id;
  }

  /** Writes down the rejected rows and gives them by reason. */
  List<MergeResult.Rejected> rejects() throws SQLException {
    String codes = "'" + String.join("', '", MergeChecks.REJECTS) + "'";
    String key = MergeChecks.keyText("b", plan.keyNames());
    String provenance =
        plan.provenance()
            ? "b.dusky_load, b.dusky_file, b.dusky_row"
            : "cast(null as bigint), cast(null as bigint), cast(null as bigint)";
    Merges.execute(
        connection,
        """
        insert into dusky.merge_reject (merge_id, merge_name, load_id, file_id, record_number, code,
          column_name, key_text, state)
        select %d, '%s', %s, b.dusky_outcome, coalesce(b.dusky_unknown, ''), left(%s, 1000), 'open'
        from dusky_batch b where b.dusky_outcome in (%s)"""
            .formatted(id, merge.name(), provenance, key, codes));
    List<MergeResult.Rejected> groups = new ArrayList<>();
    try (Statement statement = connection.createStatement();
        ResultSet row =
            statement.executeQuery(
                "select code, column_name, count(*) from dusky.merge_reject where merge_id = "
                    + id
                    + " group by code, column_name order by code, column_name")) {
      while (row.next()) {
        groups.add(
            new MergeResult.Rejected(
                row.getString(1), row.getString(2), row.getLong(3), List.of()));
      }
    }
    List<MergeResult.Rejected> shown = new ArrayList<>();
    for (MergeResult.Rejected group : groups) {
      shown.add(
          new MergeResult.Rejected(group.code(), group.column(), group.rows(), someKeys(group)));
    }
    return shown;
  }

  private List<String> someKeys(MergeResult.Rejected group) throws SQLException {
    List<String> keys = new ArrayList<>();
    try (PreparedStatement query =
        connection.prepareStatement(
            "select distinct key_text from dusky.merge_reject where merge_id = ? and code = ?"
                + " and column_name = ? order by key_text fetch first 3 rows only")) {
      query.setLong(1, id);
      query.setString(2, group.code());
      query.setString(3, group.column());
      try (ResultSet row = query.executeQuery()) {
        while (row.next()) {
          keys.add(row.getString(1));
        }
      }
    }
    return keys;
  }

  /** The files are merged: they will not be taken again. */
  void consume(Map<String, Long> placeholders) throws SQLException {
    if (merge.source() instanceof MergeSource.Landing && !start.retry()) {
      Merges.execute(
          connection,
          ("insert into dusky.merge_file (merge_name, load_id, file_id, merge_id, landed_rows)"
                  + " select '%s', load_id, file_id, %d, loaded_rows from dusky_taken")
              .formatted(merge.name(), id));
    }
    for (Map.Entry<String, Long> entry : placeholders.entrySet()) {
      try (PreparedStatement insert =
          connection.prepareStatement("insert into dusky.merge_placeholder values (?, ?, ?)")) {
        insert.setLong(1, id);
        insert.setString(2, entry.getKey());
        insert.setLong(3, entry.getValue());
        insert.executeUpdate();
      }
    }
  }

  /** Writes down how it came out. */
  void complete(MergeTally tally, Optional<Long> before, long added, long removed)
      throws SQLException {
    String sql =
        "update dusky.merge_run set ended_at = ?, landed_rows = ?, inserted_rows = ?,"
            + " updated_rows = ?, unchanged_rows = ?, superseded_rows = ?, deleted_rows = ?,"
            + " rejected_rows = ?, missing_rows = ?, added_rows = ?, removed_rows = ?,"
            + " rows_before = ? where merge_id = ?";
    try (PreparedStatement update = connection.prepareStatement(sql)) {
      update.setTimestamp(1, Merges.now());
      update.setLong(2, tally.landed());
      update.setLong(3, tally.inserted());
      update.setLong(4, tally.updated());
      update.setLong(5, tally.unchanged());
      update.setLong(6, tally.superseded());
      update.setLong(7, tally.deleted());
      update.setLong(8, tally.rejected());
      update.setLong(9, tally.missing());
      update.setLong(10, added);
      update.setLong(11, removed);
      update.setObject(12, before.orElse(null), Types.BIGINT);
      update.setLong(13, id);
      update.executeUpdate();
    }
    Seal.write(connection, Seal.MERGE, "dusky.merge_run", "merge_id = ?", id);
  }

  /** Enters a run that took no rows, with what it did instead. */
  static void filled(Connection connection, Merge merge, MergeStart start, String told)
      throws SQLException {
    long id = insert(connection, merge, start, "done", Optional.of(told));
    Seal.write(connection, Seal.MERGE, "dusky.merge_run", "merge_id = ?", id);
  }

  /** Opens the ledger's entry. */
  static long insert(
      Connection connection, Merge merge, MergeStart start, String state, Optional<String> message)
      throws SQLException {
    String sql =
        "insert into dusky.merge_run (merge_name, source, into_table, existing, retry, state,"
            + " started_at, started_by, host, tool_version, declared, landed_rows, inserted_rows,"
            + " updated_rows, unchanged_rows, superseded_rows, deleted_rows, rejected_rows,"
            + " missing_rows, added_rows, removed_rows, message, ended_at)"
            + " values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, ?, ?)";
    try (PreparedStatement insert = connection.prepareStatement(sql, new String[] {"merge_id"})) {
      insert.setString(1, merge.name());
      insert.setString(2, merge.source().toString());
      insert.setString(3, merge.into().toString());
      insert.setString(4, merge.existing().toString());
      insert.setBoolean(5, start.retry());
      insert.setString(6, state);
      insert.setTimestamp(7, Timestamp.from(start.at()));
      insert.setString(8, start.startedBy());
      insert.setString(9, start.host());
      insert.setString(10, start.toolVersion());
      insert.setString(11, merge.toString());
      insert.setString(12, message.map(m -> LedgerText.fit(m, 4000)).orElse(null));
      insert.setTimestamp(13, Merges.now());
      insert.executeUpdate();
      try (ResultSet keys = insert.getGeneratedKeys()) {
        keys.next();
        return keys.getLong(1);
      }
    }
  }
}
