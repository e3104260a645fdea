package dev.dusky.warehouses.ledger;

import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.ledger.PostedRows;
import dev.dusky.core.table.ProvenanceKey;
import dev.dusky.core.table.TableName;
import java.sql.SQLException;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jdbi.v3.core.Handle;

/**
 * Enters that a load has replaced postings, and that its reversal brings them back. All of it is
 * part of the connection's transaction.
 */
public final class Replacements {

  /**
   * What a load replaced.
   *
   * @param reversal the load that entered the reversal of what was replaced
   * @param rows how many rows were taken out
   * @param kept whether they are kept
   */
  public record Replaced(long reversal, long rows, boolean kept) {}

  private final Handle handle;

  /** On that connection. */
  public Replacements(Handle handle) {
    this.handle = handle;
  }

  /** The reason that is entered for what a load replaced. */
  private static String reason(long load) {
    return "replaced by load " + load;
  }

  void enter(long load, LoadStart start, TableName into, List<PostedRows> postings, long rows)
      throws SQLException {
    Map<ProvenanceKey, Long> loaded = new HashMap<>();
    postings.forEach(p -> loaded.put(new ProvenanceKey(p.loadId(), p.fileId()), p.loaded()));
    Reversal reversal =
        new Reversal(handle, start, (l, f) -> loaded.get(new ProvenanceKey(l, f))).replacing();
    reversal.reverse(postings, reason(load));
    run(
        "insert into dusky.replacement (load_id, reversal_id, into_table, former_rows, kept)"
            + " values (:load, :reversal, :into, :rows, true)",
        Map.of("load", load, "reversal", reversal.loadId(), "into", into.toString(), "rows", rows));
  }

  /** What a load replaced, unless it was brought back already. */
  public Optional<Replaced> of(long load) {
    return handle
        .createQuery(
            "select reversal_id, former_rows, kept from dusky.replacement"
                + " where load_id = :load and restored_by is null")
        .bind("load", load)
        .map(
            (row, context) ->
                new Replaced(
                    row.getLong("reversal_id"), row.getLong("former_rows"), row.getBoolean("kept")))
        .findFirst();
  }

  /**
   * Enters that what a load replaced is in force again. Its rows are in the table already.
   *
   * @return the number of the load that is entered for it
   */
  public long restore(long load, Replaced replaced, LoadStart start) throws SQLException {
    long by = LoadRows.insert(handle, start.as(LoadKind.RESTORE));
    String why = "restored what load %d had replaced".formatted(load);
    Map<String, Object> keys =
        Map.of(
            "by",
            by,
            "reversal",
            replaced.reversal(),
            "load",
            load,
            "reason",
            reason(load),
            "why",
            why,
            "now",
            Instant.now());
    enter(keys);
    run(
        """
        update dusky.file set message = null, settled_at = :now,
          state = (select max(t.state) from dusky.tally t where t.file_id = dusky.file.file_id
            and t.reversed_by = :reversal and t.state in ('posted', 'twin')),
          load_id = (select max(t.load_id) from dusky.tally t where t.file_id = dusky.file.file_id
            and t.reversed_by = :reversal and t.state in ('posted', 'twin'))
        where state = 'replaced' and load_id = :reversal""",
        keys);
    run(
        """
        update dusky.reject set state = 'open', settled_at = null, settled_by = null, reason = null
        where state = 'waived' and reason = :reason and file_id in
          (select file_id from dusky.tally where reversed_by = :reversal)""",
        keys);
    run(
        """
        update dusky.merge_reject set state = 'open' where state = 'reversed' and exists
          (select 1 from dusky.tally t where t.reversed_by = :reversal
            and t.load_id = dusky.merge_reject.load_id and t.file_id = dusky.merge_reject.file_id)""",
        keys);
    run("update dusky.tally set reversed_by = null where reversed_by = :reversal", keys);
    run("update dusky.replacement set restored_by = :by, kept = false where load_id = :load", keys);
    LoadRows.end(handle, by, LoadState.DONE, why);
    return by;
  }

  /** The entries that take back those of the reversal. */
  private void enter(Map<String, Object> keys) {
    run(
        """
        insert into dusky.tally (load_id, file_id, state, read_rows, loaded_rows, duplicate_rows,
          rejected_rows, filtered_rows, withheld_rows, stored_bytes, content_bytes, elapsed_ms,
          message, written_at)
        select cast(:by as bigint), file_id, 'reversed', -read_rows, -loaded_rows,
          -duplicate_rows, -rejected_rows, -filtered_rows, 0, 0, 0, 0,
          cast(:why as varchar(4000)), cast(:now as timestamp with time zone)
        from dusky.tally where load_id = :reversal""",
        keys);
    run(
        """
        insert into dusky.control_total (load_id, file_id, column_name, loaded_total, other_total,
          duplicate_total)
        select cast(:by as bigint), file_id, column_name, -loaded_total, -other_total,
          -duplicate_total
        from dusky.control_total where load_id = :reversal""",
        keys);
    long by = (Long) keys.get("by");
    handle
        .createQuery("select file_id from dusky.tally where load_id = :by")
        .bind("by", by)
        .mapTo(Long.class)
        .list()
        .forEach(file -> Seal.tally(handle, by, file));
  }

  private void run(String sql, Map<String, Object> parameters) {
    handle.createUpdate(sql).bindMap(parameters).execute();
  }
}
