package dev.dusky.warehouses.script;

import static dev.dusky.warehouses.script.ScratchNames.ASIDE;
import static dev.dusky.warehouses.script.ScratchNames.SAME;
import static dev.dusky.warehouses.script.ScratchNames.column;
import static dev.dusky.warehouses.script.ScratchNames.each;
import static dev.dusky.warehouses.script.ScratchNames.same;

import dev.dusky.core.merge.Lookup;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.merge.MergeStep;
import dev.dusky.core.merge.MergeStep.Effect;
import java.util.List;

/**
 * A merge into a target with one row per key, in which one statement ranks, writes and counts the
 * rows whose outcome is clear. The other rows, rejects and rows that share their time, are set
 * aside and judged like those of a {@link PlainScript}. For databases whose {@code merge} returns
 * what it did to each row.
 */
final class OnePassScript extends PlainScript {

  OnePassScript(MergePlan plan, MergeRequest request, ScratchWords scratch) {
    super(plan, request, scratch);
  }

  /**
   * Whether one statement can do it: landed rows, unique keys, no deletions, snapshots,
   * placeholders or sums, which need the outcome of each row, and no numbers that are given in
   * order.
   */
  static boolean fits(MergePlan plan, MergeRequest request) {
    return request.onePass()
        && !request.twice()
        && plan.unique()
        && plan.provenance()
        && plan.merge().source() instanceof MergeSource.Landing
        && plan.merge().deleted().isEmpty()
        && plan.merge().missing().isEmpty()
        && plan.merge().placeholder().isEmpty()
        && plan.merge().totals().isEmpty()
        && (plan.merge().surrogate().isEmpty() || plan.surrogateFilled())
        && plan.merge().lookups().stream()
            .noneMatch(lookup -> lookup.unknown() instanceof Lookup.Unknown.Placeholder);
  }

  @Override
  void batch(List<MergeStep> steps) {
    BatchSql batch = new BatchSql(plan, request);
    steps.add(MergeStep.prepare("Counts rows set aside.", "create temporary sequence " + ASIDE));
    steps.add(MergeStep.prepare("Counts unchanged rows.", "create temporary sequence " + SAME));
    steps.add(
        new MergeStep(
            Effect.PASS,
            "Rank the landed rows, write the latest of each key, and count. Rejects and rows that\n"
                + "share their time are set aside.",
            pass(batch.commonOnce()),
            plan.merge().into().toString()));
    judged(
        steps,
        batch.common(),
        "(select is_called from %s)\n  and %s\n  and %s"
            .formatted(ASIDE, batch.kept(), batch.aside()));
  }

  private String pass(String common) {
    StringBuilder matched = new StringBuilder();
    older()
        .ifPresent(
            o -> matched.append("  when matched and %s\n    then do nothing\n".formatted(o)));
    if (!overwritten().isEmpty()) {
      matched.append(
          "  when matched and %s\n    then update set\n  %s\n"
              .formatted(changes(), assignments("r")));
    }
    return """
        %s,
        written as (
          merge into %s t using (
            select * from ranked r
            where r.dusky_first and case
              when r.dusky_tied or r.dusky_unknown is not null or %s then nextval('%s') < 0
              else true end
          ) r on (%s)
        %s  when matched and nextval('%s') > 0 then do nothing
          when not matched then insert (%s) values (%s)
          returning merge_action() as action
        )
        select count(*) filter (where action = 'INSERT') as inserted,
          count(*) filter (where action = 'UPDATE') as updated
        from written"""
        .formatted(
            common,
            target,
            each(keys, " or ", key -> column("r", key) + " is null"),
            ASIDE,
            same("t", "r", keys),
            matched,
            SAME,
            each(plan.columns(), ", ", c -> ScratchNames.quote(c.name())),
            each(plan.columns(), ", ", c -> column("r", c.name())));
  }

  @Override
  public String unchangedCount() {
    return "select case when is_called then last_value else 0 end from " + SAME;
  }
}
