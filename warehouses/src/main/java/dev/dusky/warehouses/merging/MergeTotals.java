package dev.dusky.warehouses.merging;

import dev.dusky.core.merge.ExistingPolicy;
import dev.dusky.core.merge.GoneKeys;
import dev.dusky.core.merge.Merge;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.script.MergePlan;
import java.util.List;
import org.jdbi.v3.core.Handle;

/**
 * The sums of a merge's columns, by what became of the landed rows, and of the values that go from
 * the target, so that sums can be followed from file to target.
 */
final class MergeTotals {

  private final Handle handle;
  private final MergePlan plan;
  private final long id;

  MergeTotals(Handle handle, MergePlan plan, long id) {
    this.handle = handle;
    this.plan = plan;
    this.id = id;
  }

  /** Enters the sums of a merge that is judged and not written yet. */
  void judge(boolean sweep) {
    int number = 0;
    for (String column : plan.merge().totals()) {
      handle
          .createUpdate(sql(column, "dusky_sum" + number++, sweep))
          .bind("id", id)
          .bind("column", column)
          .bind("into", plan.merge().into().toString())
          .bindArray("rejects", String.class, MergeChecks.REJECTS)
          .execute();
    }
  }

  private String sql(String column, String sum, boolean sweep) {
    Merge merge = plan.merge();
    String name = Identifiers.quote(column);
    String into = Identifiers.quote(merge.into());
    boolean written =
        merge.existing() instanceof ExistingPolicy.Overwrite o
            && (o.columns().isEmpty() || o.columns().contains(column));
    boolean deletes = merge.deleted().filter(d -> d.then() == GoneKeys.DELETE).isPresent();
    boolean sweeps = sweep && merge.missing().filter(m -> m.then() == GoneKeys.DELETE).isPresent();
    String removed =
        (deletes ? old(into, name, "deleted") : "0")
            + " + "
            + (sweeps
                ? "(select coalesce(sum(t.%s), 0) from %s t where not exists (select 1 from dusky_batch b where %s))"
                    .formatted(name, into, same())
                : "0");
    return """
        insert into dusky.merge_total
        select cast(:id as bigint), cast(:column as varchar(200)), landed, inserted, updated, unchanged,
          landed - inserted - updated - unchanged - deleted - rejected, deleted, rejected,
          %s, %s, %s
        from (
          select coalesce(sum(case when b.dusky_rank = 1 then b.%s end), 0) as landed,
            coalesce(sum(case when b.dusky_outcome = 'inserted' then b.%s end), 0) as inserted,
            coalesce(sum(case when b.dusky_outcome = 'updated' then b.%s end), 0) as updated,
            coalesce(sum(case when b.dusky_outcome = 'unchanged' then b.%s end), 0) as unchanged,
            coalesce(sum(case when b.dusky_outcome = 'deleted' then b.%s end), 0) as deleted,
            coalesce(sum(case when b.dusky_outcome = any(:rejects) then b.%s end), 0) as rejected
          from dusky_batch b
        ) s"""
        .formatted(
            written ? old(into, name, "updated") : "updated",
            removed,
            before(into, name),
            sum,
            name,
            name,
            name,
            name,
            name);
  }

  /** The totals of the target's rows that rows of this outcome replace. */
  private String old(String into, String name, String outcome) {
    return ("(select coalesce(sum(t.%s), 0) from %s t join dusky_batch b on %s"
            + " where b.dusky_outcome = '%s')")
        .formatted(name, into, same(), outcome);
  }

  private String same() {
    List<String> keys = plan.keyNames();
    return keys.stream()
        .map(k -> "b.%s = t.%s".formatted(Identifiers.quote(k), Identifiers.quote(k)))
        .collect(java.util.stream.Collectors.joining(" and "));
  }

  /** The sum that the target had before the first merge into it. */
  private String before(String into, String name) {
    return ("case when (select count(*) from dusky.merge_total x join dusky.merge_run r"
            + " on r.merge_id = x.merge_id where r.into_table = :into and x.column_name = :column) = 0"
            + " then (select coalesce(sum(t.%s), 0) from %s t) end")
        .formatted(name, into);
  }
}
