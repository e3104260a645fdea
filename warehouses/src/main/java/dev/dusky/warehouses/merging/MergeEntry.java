package dev.dusky.warehouses.merging;

import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeResult;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.merge.MergeStart;
import dev.dusky.core.merge.MergeTally;
import dev.dusky.core.usage.Usage;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.ledger.LedgerText;
import dev.dusky.warehouses.ledger.Seal;
import dev.dusky.warehouses.ledger.UsageRows;
import dev.dusky.warehouses.script.MergePlan;
import java.sql.SQLException;
import java.sql.Types;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jdbi.v3.core.Handle;

/** A run of a merge in the ledger: opened, with its rejects and the files it took, completed. */
final class MergeEntry {

  private final Handle handle;
  private final MergePlan plan;
  private final Merge merge;
  private final MergeStart start;
  private final long id;

  private MergeEntry(Handle handle, MergePlan plan, MergeStart start, long id) {
    this.handle = handle;
    this.plan = plan;
    this.merge = plan.merge();
    this.start = start;
    this.id = id;
  }

  /** Opens the entry of a run that will be done, or will not have been at all. */
  static MergeEntry open(Handle handle, MergePlan plan, MergeStart start) {
    long id = insert(handle, plan.merge(), start, "done", Optional.empty());
    return new MergeEntry(handle, plan, start, id);
  }

  long id() {
    return id;
  }

  /** Enters the rejected rows and returns them by reason. */
  List<MergeResult.Rejected> rejects(MergeWork work) throws SQLException {
    String key = Identifiers.keyText("b", plan.keyNames());
    String provenance =
        plan.provenance()
            ? "b.dusky_load, b.dusky_file, b.dusky_row"
            : "cast(null as bigint), cast(null as bigint), cast(null as bigint)";
    work.enter(
        "dusky.merge_reject (merge_id, merge_name, load_id, file_id, record_number,"
            + " code, column_name, key_text, state)",
        """
        select cast(%d as bigint), cast(%s as varchar(200)), %s, b.dusky_outcome,
          coalesce(b.dusky_unknown, ''), left(%s, 1000), 'open'
        from dusky_batch b where b.dusky_outcome in (%s)"""
            .formatted(
                id,
                Identifiers.text(merge.name()),
                provenance,
                key,
                Identifiers.texts(MergeChecks.REJECTS)));
    List<MergeResult.Rejected> groups =
        handle
            .createQuery(
                "select code, column_name, count(*) as n from dusky.merge_reject"
                    + " where merge_id = :id group by code, column_name order by code, column_name")
            .bind("id", id)
            .map(
                (row, context) ->
                    new MergeResult.Rejected(
                        row.getString("code"),
                        row.getString("column_name"),
                        row.getLong("n"),
                        List.of()))
            .list();
    return groups.stream()
        .map(g -> new MergeResult.Rejected(g.code(), g.column(), g.rows(), someKeys(g)))
        .toList();
  }

  private List<String> someKeys(MergeResult.Rejected group) {
    return handle
        .createQuery(
            "select distinct key_text from dusky.merge_reject where merge_id = :id and code = :code"
                + " and column_name = :column order by key_text fetch first 3 rows only")
        .bind("id", id)
        .bind("code", group.code())
        .bind("column", group.column())
        .mapTo(String.class)
        .list();
  }

  /** Enters the files as merged, so that they are not taken again. */
  void consume(Map<String, Long> placeholders) {
    if (merge.source() instanceof MergeSource.Landing && !start.retry()) {
      handle
          .createUpdate(
              "insert into dusky.merge_file (merge_name, load_id, file_id, merge_id, landed_rows)"
                  + " select cast(:name as varchar(200)), load_id, file_id, cast(:id as bigint),"
                  + " loaded_rows from dusky_taken")
          .bind("name", merge.name())
          .bind("id", id)
          .execute();
    }
    placeholders.forEach(
        (table, rows) ->
            handle
                .createUpdate(
                    "insert into dusky.merge_placeholder (merge_id, into_table, added_rows)"
                        + " values (:id, :table, :rows)")
                .bind("id", id)
                .bind("table", table)
                .bind("rows", rows)
                .execute());
  }

  /** Enters the result, and what the merge used until now. */
  void complete(MergeTally tally, Optional<Long> before, long added, long removed, Usage usage) {
    handle
        .createUpdate(
            """
            update dusky.merge_run set ended_at = :at, landed_rows = :landed,
              inserted_rows = :inserted, updated_rows = :updated, unchanged_rows = :unchanged,
              superseded_rows = :superseded, deleted_rows = :deleted, rejected_rows = :rejected,
              missing_rows = :missing, added_rows = :added, removed_rows = :removed,
              rows_before = :before
            where merge_id = :id""")
        .bindMethods(tally)
        .bind("at", Instant.now())
        .bind("added", added)
        .bind("removed", removed)
        .bindBySqlType("before", before.orElse(null), Types.BIGINT)
        .bind("id", id)
        .execute();
    Seal.merge(handle, id);
    UsageRows.merge(handle, id, usage);
  }

  /** Enters a run that took no rows, with what it did instead. */
  static void filled(Handle handle, Merge merge, MergeStart start, String message) {
    Seal.merge(handle, insert(handle, merge, start, "done", Optional.of(message)));
  }

  /** Opens the ledger's entry and returns its number. */
  static long insert(
      Handle handle, Merge merge, MergeStart start, String state, Optional<String> message) {
    return handle
        .createUpdate(
            """
            insert into dusky.merge_run (merge_name, source, into_table, existing, retry, state,
              started_at, started_by, host, tool_version, declared, landed_rows, inserted_rows,
              updated_rows, unchanged_rows, superseded_rows, deleted_rows, rejected_rows,
              missing_rows, added_rows, removed_rows, message, ended_at)
            values (:name, :source, :into, :existing, :retry, :state, :started, :by, :host,
              :version, :declared, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, :message, :ended)""")
        .bind("name", merge.name())
        .bind("source", merge.source().toString())
        .bind("into", merge.into().toString())
        .bind("existing", merge.existing().toString())
        .bind("retry", start.retry())
        .bind("state", state)
        .bind("started", start.at())
        .bind("by", start.startedBy())
        .bind("host", start.host())
        .bind("version", start.toolVersion())
        .bind("declared", merge.toString())
        .bind("message", message.map(m -> LedgerText.fit(m, 4000)).orElse(null))
        .bind("ended", Instant.now())
        .executeAndReturnGeneratedKeys("merge_id")
        .mapTo(Long.class)
        .one();
  }
}
