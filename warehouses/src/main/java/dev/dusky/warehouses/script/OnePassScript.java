package dev.dusky.warehouses.script;

import static dev.dusky.warehouses.script.ScratchNames.OLDER;
import static dev.dusky.warehouses.script.ScratchNames.UNCLEAR;
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
    String common = batch.commonOnce();
    steps.add(
        MergeStep.make(
            UNCLEAR,
            "Rows that are set aside: rejects, and rows that share their time.",
            scratch.make(
                UNCLEAR,
                "%s\nselect r.*, 1 as dusky_peer, 1 as dusky_times from ranked r\nwhere false"
                    .formatted(common))));
    if (older().isPresent()) {
      steps.add(
          MergeStep.prepare(
              "Counts rows that are older than the target's.",
              "create temporary sequence " + OLDER));
    }
    steps.add(
        new MergeStep(
            Effect.PASS,
            "Rank the landed rows, write the latest of each key, set the others aside, and count.",
            pass(common),
            plan.merge().into().toString()));
    judged(steps, "with ranked as (select * from " + UNCLEAR + ")", "true");
  }

  private String pass(String common) {
    String unclear =
        "(r.dusky_tied or r.dusky_rank = 1 and r.dusky_unknown is not null or %s)"
            .formatted(each(keys, " or ", key -> column("r", key) + " is null"));
    StringBuilder matched = new StringBuilder();
    older()
        .ifPresent(
            o ->
                matched.append(
                    "  when matched and case when %s then nextval('%s') > 0 else false end\n    then do nothing\n"
                        .formatted(o, OLDER)));
    if (!overwritten().isEmpty()) {
      matched.append(
          "  when matched and %s\n    then update set\n  %s\n"
              .formatted(changes(), assignments("r")));
    }
    return """
        %s,
        aside as (
          insert into %s select r.*, 1, 1 from ranked r where %s
        ),
        written as (
          merge into %s t using (select * from ranked r where r.dusky_rank = 1 and not %s) r
          on (%s)
        %s  when not matched then insert (%s) values (%s)
          returning merge_action() as action
        )
        select count(*) filter (where action = 'INSERT') as inserted,
          count(*) filter (where action = 'UPDATE') as updated,
          (select count(*) from ranked) as landed,
          (select count(*) from ranked r where r.dusky_rank = 1 and not %s) as latest
        from written"""
        .formatted(
            common,
            UNCLEAR,
            unclear,
            target,
            unclear,
            same("t", "r", keys),
            matched,
            each(plan.columns(), ", ", c -> ScratchNames.quote(c.name())),
            each(plan.columns(), ", ", c -> column("r", c.name())),
            unclear);
  }

  @Override
  public String olderCount() {
    return older()
        .map(o -> "select case when is_called then last_value else 0 end from " + OLDER)
        .orElse("select 0");
  }
}
