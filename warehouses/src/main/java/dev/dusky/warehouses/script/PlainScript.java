package dev.dusky.warehouses.script;

import static dev.dusky.warehouses.script.ScratchNames.BATCH;
import static dev.dusky.warehouses.script.ScratchNames.TWICE;
import static dev.dusky.warehouses.script.ScratchNames.column;
import static dev.dusky.warehouses.script.ScratchNames.differ;
import static dev.dusky.warehouses.script.ScratchNames.each;
import static dev.dusky.warehouses.script.ScratchNames.list;
import static dev.dusky.warehouses.script.ScratchNames.quote;
import static dev.dusky.warehouses.script.ScratchNames.same;

import dev.dusky.core.merge.ExistingPolicy;
import dev.dusky.core.merge.GoneKeys;
import dev.dusky.core.merge.MergeStep;
import dev.dusky.core.merge.MergeStep.Effect;
import dev.dusky.warehouses.script.MergePlan.Column;
import dev.dusky.warehouses.script.MergePlan.Ordering;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** A merge into a target that has one row for each key. */
class PlainScript extends MergeScript {

  PlainScript(MergePlan plan, MergeRequest request, ScratchWords scratch) {
    super(plan, request, scratch);
  }

  @Override
  void batch(List<MergeStep> steps) {
    if (request.twice()) {
      steps.add(
          MergeStep.make(
              TWICE,
              "Keys that the target has more than once already; they are not changed.",
              scratch.make(
                  TWICE,
                  "select %s from %s t group by %s having count(*) > 1"
                      .formatted(list("t", keys), target, list("t", keys)))));
    }
    BatchSql batch = new BatchSql(plan, request);
    judged(steps, batch.common(), batch.kept());
  }

  /**
   * Gives landed rows their outcome.
   *
   * @param common the common table expressions, the last of them {@code ranked}
   * @param kept the condition on {@code r} for the rows that get one
   */
  final void judged(List<MergeStep> steps, String common, String kept) {
    String once =
        request.twice()
            ? "\n  and (%s) not in (select %s from %s)"
                .formatted(list("t", keys), each(keys, ", ", ScratchNames::quote), TWICE)
            : "";
    String sql =
        """
        %s
        select r.*,
          cast(case
            when r.dusky_unknown is not null then 'unknown-key'
            when %s then 'null-key'%s
            when %s is null then case when r.dusky_gone then 'unchanged' else 'inserted' end%s
            when r.dusky_gone then %s
            when %s then 'updated'
            else 'unchanged'
          end as varchar(20)) as dusky_outcome
        from ranked r
        left join %s t on %s%s
        where %s"""
            .formatted(
                common,
                each(keys, " or ", key -> column("r", key) + " is null"),
                request.twice()
                    ? "\n    when (%s) in (select %s from %s) then 'key-not-unique'"
                        .formatted(list("r", keys), each(keys, ", ", ScratchNames::quote), TWICE)
                    : "",
                column("t", keys.get(0)),
                older().map(o -> "\n    when " + o + " then 'superseded'").orElse(""),
                goneAlready(),
                changes(),
                target,
                same("t", "r", keys),
                once,
                kept);
    steps.add(
        MergeStep.rank(
            BATCH,
            "The landed rows as the target's columns, the latest of each key, and its outcome.",
            scratch.make(BATCH, sql)));
    ties(steps, keys.stream().map(ScratchNames::quote).toList());
  }

  /** Whether what is there is later than what landed, as far as the target shows. */
  final Optional<String> older() {
    String condition = "";
    List<Ordering> told = new ArrayList<>();
    for (Ordering ordering : plan.latest()) {
      if (ordering.target().isEmpty()) {
        break;
      }
      told.add(ordering);
    }
    for (int i = told.size() - 1; i >= 0; i--) {
      String there = column("t", told.get(i).target().get());
      String landed = "r.dusky_l" + i;
      String less =
          "(%s is not null and (%s is null or %s < %s))".formatted(there, landed, landed, there);
      condition =
          condition.isEmpty()
              ? less
              : "(%s or %s is not distinct from %s and %s)"
                  .formatted(less, landed, there, condition);
    }
    return condition.isEmpty() ? Optional.empty() : Optional.of(condition);
  }

  private String goneAlready() {
    Optional<GoneKeys> then = plan.merge().deleted().map(d -> d.then());
    String already = "false";
    if (then.isPresent() && then.get() == GoneKeys.MARK) {
      already = "coalesce(%s, false)".formatted(column("t", plan.mark().orElseThrow()));
    } else if (then.isPresent() && then.get() == GoneKeys.END) {
      already = column("t", plan.end().orElseThrow()) + " is not null";
    }
    return "case when %s then 'unchanged' else 'deleted' end".formatted(already);
  }

  final String changes() {
    List<Column> overwritten = overwritten();
    String changed = overwritten.isEmpty() ? "false" : differ("t", "r", overwritten);
    return plan.merge()
        .placeholder()
        .map(p -> "(coalesce(%s, false) or %s)".formatted(column("t", p), changed))
        .orElse(changed);
  }

  /** The columns whose difference is a change of a row that is there. */
  final List<Column> overwritten() {
    ExistingPolicy existing = plan.merge().existing();
    if (existing instanceof ExistingPolicy.Keep) {
      return List.of();
    }
    List<String> only = ((ExistingPolicy.Overwrite) existing).columns();
    return plan.compared().stream()
        .filter(c -> only.isEmpty() || only.contains(c.name()) || managed(c))
        .toList();
  }

  private boolean managed(Column column) {
    return plan.mark().filter(column.name()::equals).isPresent()
        || plan.end().filter(column.name()::equals).isPresent();
  }

  @Override
  String live() {
    if (plan.mark().isPresent()) {
      return "not coalesce(%s, false)".formatted(column("t", plan.mark().get()));
    }
    return plan.end().map(end -> column("t", end) + " is null").orElse("true");
  }

  @Override
  public String census() {
    return "select dusky_outcome, count(*) from %s group by dusky_outcome".formatted(BATCH);
  }

  @Override
  public String sweepCount() {
    return "select count(*), count(case when %s then 1 end)\nfrom %s t\nwhere %s"
        .formatted(lacking(), target, live());
  }

  @Override
  public List<MergeStep> write() {
    List<MergeStep> steps = new ArrayList<>();
    plan.merge().deleted().ifPresent(deleted -> steps.add(leave(deleted.then())));
    if (request.sweep()) {
      steps.add(sweep(plan.merge().missing().orElseThrow().then()));
    }
    boolean completes = plan.merge().placeholder().isPresent();
    if (!overwritten().isEmpty() || completes) {
      steps.add(
          new MergeStep(
              Effect.CHANGE,
              "Rows that differ from what is there.",
              """
              merge into %s t using (
                select * from %s where dusky_outcome = 'updated'
              ) b on (%s)
              when matched then update set
                %s"""
                  .formatted(target, BATCH, same("t", "b", keys), assignments("b")),
              plan.merge().into().toString()));
    }
    steps.add(insert());
    return steps;
  }

  /** The assignments to a changed row, from an alias of the landed row. */
  final String assignments(String alias) {
    List<Column> overwritten = overwritten();
    List<String> sets = new ArrayList<>();
    Optional<String> placeholder = plan.merge().placeholder();
    for (Column column : plan.values()) {
      String name = quote(column.name());
      String landed = column(alias, column.name());
      if (overwritten.contains(column) || column.carried()) {
        sets.add(name + " = " + landed);
      } else if (placeholder.isPresent()) {
        sets.add(
            "%s = case when %s then %s else %s end"
                .formatted(
                    name, column("t", placeholder.get()), landed, column("t", column.name())));
      }
    }
    placeholder.ifPresent(p -> sets.add(quote(p) + " = false"));
    return String.join(",\n  ", sets);
  }

  private MergeStep leave(GoneKeys then) {
    String gone = "select * from %s where dusky_outcome = 'deleted'".formatted(BATCH);
    if (then == GoneKeys.DELETE) {
      return new MergeStep(
          Effect.REMOVE,
          "Rows with a deleted key.",
          "delete from %s t where (%s) in (\n  select %s from (%s) b)"
              .formatted(target, list("t", keys), list("b", keys), gone),
          plan.merge().into().toString());
    }
    List<String> columns = new ArrayList<>();
    columns.add(then == GoneKeys.MARK ? plan.mark().orElseThrow() : plan.end().orElseThrow());
    plan.latest().stream().flatMap(l -> l.target().stream()).forEach(columns::add);
    return new MergeStep(
        Effect.CHANGE,
        "Mark rows with a deleted key.",
        "merge into %s t using (\n  %s\n) b on (%s)\nwhen matched then update set %s"
            .formatted(
                target,
                gone,
                same("t", "b", keys),
                each(columns, ", ", c -> quote(c) + " = " + column("b", c))),
        plan.merge().into().toString());
  }

  private MergeStep sweep(GoneKeys then) {
    String which = lacking();
    return switch (then) {
      case DELETE ->
          new MergeStep(
              Effect.REMOVE,
              "Rows that the snapshot lacks.",
              "delete from %s t where %s".formatted(target, which),
              plan.merge().into().toString());
      case MARK ->
          new MergeStep(
              Effect.CHANGE,
              "Mark rows that the snapshot lacks.",
              "update %s t set %s = true where %s"
                  .formatted(target, quote(plan.mark().orElseThrow()), which),
              plan.merge().into().toString());
      case END ->
          new MergeStep(
              Effect.CHANGE,
              "End rows that the snapshot lacks.",
              "update %s t set %s = (select max(b.dusky_at) from %s b) where %s"
                  .formatted(target, quote(plan.end().orElseThrow()), BATCH, which),
              plan.merge().into().toString());
      case KEEP -> throw new IllegalStateException("what is kept needs no statement");
    };
  }

  private MergeStep insert() {
    return insert(
        "Rows with a new key.", "b", BATCH + " b where b.dusky_outcome = 'inserted'", Map.of());
  }
}
