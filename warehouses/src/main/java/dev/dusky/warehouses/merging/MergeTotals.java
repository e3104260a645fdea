package dev.dusky.warehouses.merging;

import dev.dusky.core.merge.ExistingPolicy;
import dev.dusky.core.merge.GoneKeys;
import dev.dusky.core.merge.Merge;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.script.MergePlan;
import java.math.BigDecimal;
import java.util.List;
import org.jdbi.v3.core.Handle;

/**
 * The sums of a merge's columns, by what became of the landed rows, and of the values that go from
 * the target, so that sums can be followed from file to target.
 */
final class MergeTotals {

  private static final PassSums NOTHING =
      new PassSums(
          BigDecimal.ZERO, BigDecimal.ZERO, BigDecimal.ZERO, BigDecimal.ZERO, BigDecimal.ZERO);

  private static final String EARLIER =
      "select 1 from dusky.merge_total x join dusky.merge_run r on r.merge_id = x.merge_id"
          + " where r.into_table = :into and x.column_name = :column";

  private final Handle handle;
  private final MergePlan plan;
  private final long id;

  MergeTotals(Handle handle, MergePlan plan, long id) {
    this.handle = handle;
    this.plan = plan;
    this.id = id;
  }

  /** Whether earlier merges into the target summed all the columns. */
  boolean known() {
    return plan.merge().totals().stream()
        .allMatch(
            column ->
                handle
                    .createQuery("select exists (" + EARLIER + ")")
                    .bind("column", column)
                    .bind("into", plan.merge().into().toString())
                    .mapTo(Boolean.class)
                    .one());
  }

  /**
   * Enters the sums of a merge that is judged and not written yet.
   *
   * @param passed the sums of what one pass has written already; none if there was none
   */
  void judge(boolean sweep, List<PassSums> passed) {
    int number = 0;
    for (String column : plan.merge().totals()) {
      boolean pass = !passed.isEmpty();
      PassSums sums = pass ? passed.get(number) : NOTHING;
      // The batch has only the rows that the pass set aside.
      String landed = pass ? "0" : "sum(case when b.dusky_rank = 1 then b.dusky_sum%d end)";
      handle
          .createUpdate(sql(column, landed.formatted(number++), sweep))
          .bind("id", id)
          .bind("column", column)
          .bind("landed", sums.landed())
          .bind("inserted", sums.inserted())
          .bind("updated", sums.updated())
          .bind("unchanged", sums.unchanged())
          .bind("replaced", written(column) ? sums.replaced() : sums.updated())
          .bind("into", plan.merge().into().toString())
          .bindArray("rejects", String.class, MergeChecks.REJECTS)
          .execute();
    }
  }

  private boolean written(String column) {
    return plan.merge().existing() instanceof ExistingPolicy.Overwrite o
        && (o.columns().isEmpty() || o.columns().contains(column));
  }

  private String sql(String column, String landed, boolean sweep) {
    Merge merge = plan.merge();
    String name = Identifiers.quote(column);
    String into = Identifiers.quote(merge.into());
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
          cast(:replaced as numeric) + %s, %s, %s
        from (
          select cast(:landed as numeric) + coalesce(%s, 0) as landed,
            cast(:inserted as numeric)
              + coalesce(sum(case when b.dusky_outcome = 'inserted' then b.%s end), 0) as inserted,
            cast(:updated as numeric)
              + coalesce(sum(case when b.dusky_outcome = 'updated' then b.%s end), 0) as updated,
            cast(:unchanged as numeric)
              + coalesce(sum(case when b.dusky_outcome = 'unchanged' then b.%s end), 0) as unchanged,
            coalesce(sum(case when b.dusky_outcome = 'deleted' then b.%s end), 0) as deleted,
            coalesce(sum(case when b.dusky_outcome = any(:rejects) then b.%s end), 0) as rejected
          from dusky_batch b
        ) s"""
        .formatted(
            written(column) ? old(into, name, "updated") : "updated - cast(:updated as numeric)",
            removed,
            before(into, name),
            landed,
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
    return "case when not exists (%s) then (select coalesce(sum(t.%s), 0) from %s t) end"
        .formatted(EARLIER, name, into);
  }
}
