package dev.dusky.warehouses.merging;

import dev.dusky.core.merge.ExistingPolicy;
import dev.dusky.core.merge.GoneKeys;
import dev.dusky.core.merge.Merge;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.script.MergePlan;
import java.math.BigDecimal;
import java.sql.SQLException;
import java.sql.Types;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
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
      "select exists (select 1 from dusky.merge_total x"
          + " join dusky.merge_run r on r.merge_id = x.merge_id"
          + " where r.into_table = :into and x.column_name = :column)";

  private final Handle handle;
  private final MergeWork work;
  private final MergePlan plan;
  private final long id;

  MergeTotals(Handle handle, MergeWork work, MergePlan plan, long id) {
    this.handle = handle;
    this.work = work;
    this.plan = plan;
    this.id = id;
  }

  /** Whether earlier merges into the target summed all the columns. */
  boolean known() {
    return plan.merge().totals().stream().allMatch(this::known);
  }

  private boolean known(String column) {
    return handle
        .createQuery(EARLIER)
        .bind("column", column)
        .bind("into", plan.merge().into().toString())
        .mapTo(Boolean.class)
        .one();
  }

  /**
   * Enters the sums of a merge that is judged and not written yet.
   *
   * @param passed the sums of what one pass has written already; none if there was none
   */
  void judge(boolean sweep, List<PassSums> passed) throws SQLException {
    for (int number = 0; number < plan.merge().totals().size(); number++) {
      String column = plan.merge().totals().get(number);
      boolean pass = !passed.isEmpty();
      // The batch has only the rows that the pass set aside.
      String landed = pass ? "0" : "sum(case when b.dusky_rank = 1 then b.dusky_sum%d end)";
      List<BigDecimal> sums = new ArrayList<>();
      work.read(
          sql(column, landed.formatted(number), sweep),
          row -> row.forEach(value -> sums.add(decimal(value))));
      enter(column, sums, pass ? passed.get(number) : NOTHING);
    }
  }

  private static BigDecimal decimal(Object value) {
    return value == null ? BigDecimal.ZERO : new BigDecimal(value.toString());
  }

  private void enter(String column, List<BigDecimal> sums, PassSums passed) throws SQLException {
    BigDecimal landed = sums.get(0).add(passed.landed());
    BigDecimal inserted = sums.get(1).add(passed.inserted());
    BigDecimal updated = sums.get(2).add(passed.updated());
    BigDecimal unchanged = sums.get(3).add(passed.unchanged());
    BigDecimal deleted = sums.get(4);
    BigDecimal rejected = sums.get(5);
    BigDecimal superseded =
        landed
            .subtract(inserted)
            .subtract(updated)
            .subtract(unchanged)
            .subtract(deleted)
            .subtract(rejected);
    BigDecimal replaced =
        written(column) ? sums.get(6).add(passed.replaced()) : sums.get(2).add(passed.updated());
    List<BigDecimal> earlier = new ArrayList<>();
    if (!known(column)) {
      String into = Identifiers.quote(plan.merge().into());
      work.read(
          "select sum(t.%s) from %s t".formatted(Identifiers.quote(column), into),
          row -> earlier.add(decimal(row.get(0))));
    }
    handle
        .createUpdate(
            "insert into dusky.merge_total values (:id, :column, :landed, :inserted, :updated,"
                + " :unchanged, :superseded, :deleted, :rejected, :replaced, :removed, :before)")
        .bind("id", id)
        .bind("column", column)
        .bind("landed", landed)
        .bind("inserted", inserted)
        .bind("updated", updated)
        .bind("unchanged", unchanged)
        .bind("superseded", superseded)
        .bind("deleted", deleted)
        .bind("rejected", rejected)
        .bind("replaced", replaced)
        .bind("removed", sums.get(7).add(sums.get(8)))
        .bindBySqlType("before", earlier.isEmpty() ? null : earlier.get(0), Types.NUMERIC)
        .execute();
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
    return """
        select %s,
          sum(case when b.dusky_outcome = 'inserted' then b.%s end),
          sum(case when b.dusky_outcome = 'updated' then b.%s end),
          sum(case when b.dusky_outcome = 'unchanged' then b.%s end),
          sum(case when b.dusky_outcome = 'deleted' then b.%s end),
          sum(case when b.dusky_outcome in (%s) then b.%s end),
          %s, %s, %s
        from dusky_batch b"""
        .formatted(
            landed,
            name,
            name,
            name,
            name,
            Identifiers.texts(MergeChecks.REJECTS),
            name,
            written(column) ? old(into, name, "updated") : "0",
            deletes ? old(into, name, "deleted") : "0",
            sweeps
                ? "(select sum(t.%s) from %s t where not exists (select 1 from dusky_batch b where %s))"
                    .formatted(name, into, same())
                : "0");
  }

  /** The totals of the target's rows that rows of this outcome replace. */
  private String old(String into, String name, String outcome) {
    return ("(select sum(t.%s) from %s t join dusky_batch b on %s"
            + " where b.dusky_outcome = '%s')")
        .formatted(name, into, same(), outcome);
  }

  private String same() {
    List<String> keys = plan.keyNames();
    return keys.stream()
        .map(k -> "b.%s = t.%s".formatted(Identifiers.quote(k), Identifiers.quote(k)))
        .collect(Collectors.joining(" and "));
  }
}
