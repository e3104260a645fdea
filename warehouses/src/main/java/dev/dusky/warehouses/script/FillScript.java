package dev.dusky.warehouses.script;

import static dev.dusky.warehouses.script.ScratchNames.column;
import static dev.dusky.warehouses.script.ScratchNames.differ;
import static dev.dusky.warehouses.script.ScratchNames.each;
import static dev.dusky.warehouses.script.ScratchNames.list;
import static dev.dusky.warehouses.script.ScratchNames.quote;
import static dev.dusky.warehouses.script.ScratchNames.same;
import static dev.dusky.warehouses.script.ScratchNames.text;

import dev.dusky.core.merge.MergeStep;
import dev.dusky.core.merge.MergeStep.Effect;
import dev.dusky.warehouses.script.MergePlan.Column;
import java.util.List;
import java.util.Optional;

/**
 * Fills columns of a target that keeps no versions from the rows that were merged before. A row of
 * the target came of the last of them that says what it says.
 */
public final class FillScript {

  private static final String FILL = "dusky_fill";

  private final MergePlan plan;
  private final List<Column> columns;
  private final ScratchWords scratch;

  /** A script for those columns of a plan, which is of landed rows. */
  public FillScript(MergePlan plan, List<Column> columns, ScratchWords scratch) {
    this.plan = plan;
    this.columns = columns;
    this.scratch = scratch;
  }

  /** The statements in their order; the last one changes the target. */
  public List<MergeStep> steps() {
    return List.of(values(), change());
  }

  private MergeStep values() {
    MergeRequest all =
        new MergeRequest(
            0, false, "", Optional.empty(), false, false, Optional.empty(), false, false);
    List<Column> others =
        plan.compared().stream().filter(c -> !columns.contains(c) && !c.key()).toList();
    String keys = list("t", plan.keyNames());
    return MergeStep.make(
        FILL,
        "The values of the landed rows that produced the target's rows; of several the last merged one.",
        scratch.make(
            FILL,
            """
            %s
            select f.* from (
              select %s, %s,
                row_number() over (partition by %s
                  order by m.merge_id desc, r.dusky_load desc, r.dusky_file desc, r.dusky_row desc) as dusky_last
              from %s t join looked r on %s and not r.dusky_gone and not %s
              join dusky.merge_file m on m.merge_name = %s and m.load_id = r.dusky_load
                and m.file_id = r.dusky_file
            ) f where f.dusky_last = 1"""
                .formatted(
                    new BatchSql(plan, all).ever().common(),
                    keys,
                    each(columns, ", ", c -> column("r", c.name())),
                    keys,
                    quote(plan.merge().into()),
                    same("t", "r", plan.keyNames()),
                    differ("t", "r", others),
                    text(plan.merge().name()))));
  }

  /** How many rows of the target the last statement will change. */
  public String changedCount() {
    return "select count(*) from %s t join %s v on %s where %s"
        .formatted(
            quote(plan.merge().into()),
            FILL,
            same("t", "v", plan.keyNames()),
            differ("t", "v", columns));
  }

  private MergeStep change() {
    return new MergeStep(
        Effect.CHANGE,
        "Rows with other values, or none yet.",
        """
        merge into %s t using %s v on (%s)
        when matched and %s then update set %s"""
            .formatted(
                quote(plan.merge().into()),
                FILL,
                same("t", "v", plan.keyNames()),
                differ("t", "v", columns),
                each(columns, ", ", c -> quote(c.name()) + " = " + column("v", c.name()))),
        plan.merge().into().toString());
  }
}
