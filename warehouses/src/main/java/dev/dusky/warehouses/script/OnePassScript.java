package dev.dusky.warehouses.script;

import static dev.dusky.warehouses.script.ScratchNames.ASIDE;
import static dev.dusky.warehouses.script.ScratchNames.OLDER;
import static dev.dusky.warehouses.script.ScratchNames.SAME;
import static dev.dusky.warehouses.script.ScratchNames.column;
import static dev.dusky.warehouses.script.ScratchNames.each;
import static dev.dusky.warehouses.script.ScratchNames.same;

import dev.dusky.core.merge.Lookup;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.merge.MergeStep;
import dev.dusky.core.merge.MergeStep.Effect;
import dev.dusky.core.type.TypeKind;
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
   * Whether one statement can do it: landed rows, unique keys, no deletions, snapshots or
   * placeholders, which need the outcome of each row, no numbers that are given in order, and sums
   * only where the database returns what it replaces.
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
        && (plan.merge().totals().isEmpty() || request.sums() && exact(plan))
        && (plan.merge().surrogate().isEmpty() || plan.surrogateFilled())
        && plan.merge().lookups().stream()
            .noneMatch(lookup -> lookup.unknown() instanceof Lookup.Unknown.Placeholder);
  }

  /** Whether all totals are exact, so that the sum of a part follows from the other parts. */
  private static boolean exact(MergePlan plan) {
    return plan.merge().totals().stream()
        .flatMap(total -> plan.target().column(total).stream())
        .flatMap(column -> column.type().stream())
        .allMatch(type -> type.kind().isInteger() || type.kind() == TypeKind.DECIMAL);
  }

  @Override
  void batch(List<MergeStep> steps) {
    BatchSql batch = new BatchSql(plan, request);
    steps.add(MergeStep.prepare("Counts rows set aside.", "create temporary sequence " + ASIDE));
    steps.add(MergeStep.prepare("Counts unchanged rows.", "create temporary sequence " + SAME));
    if (!plan.merge().totals().isEmpty()) {
      steps.add(MergeStep.prepare("Counts older rows.", "create temporary sequence " + OLDER));
    }
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
    boolean summed = !plan.merge().totals().isEmpty();
    StringBuilder matched = new StringBuilder();
    older()
        .ifPresent(
            o ->
                matched.append(
                    "  when matched and %s\n    then do nothing\n"
                        .formatted(summed ? counted(o) : o)));
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
              when %s then nextval('%s') < 0
              else true end
          ) r on (%s)
        %s  when matched and nextval('%s') > 0 then do nothing
          when not matched then insert (%s) values (%s)
          returning merge_action() as action%s
        )
        select * from (
          select count(*) filter (where action = 'INSERT') as inserted,
            count(*) filter (where action = 'UPDATE') as updated%s
          from written
        ) w%s"""
        .formatted(
            common,
            target,
            unclear(),
            ASIDE,
            same("t", "r", keys),
            matched,
            SAME,
            each(plan.columns(), ", ", c -> ScratchNames.quote(c.name())),
            each(plan.columns(), ", ", c -> column("r", c.name())),
            sums(", r.#C as dusky_new#N, old.#C as dusky_old#N"),
            sums(SUMS),
            summed
                ? ", (select %s from ranked r) l"
                    .formatted(sums(LANDED).substring(1).replace("#A", "not (" + unclear() + ")"))
                : "");
  }

  private static final String SUMS =
      """
      ,
        coalesce(sum(dusky_new#N) filter (where action = 'INSERT'), 0) as inserted#N,
        coalesce(sum(dusky_new#N) filter (where action = 'UPDATE'), 0) as updated#N,
        coalesce(sum(dusky_old#N) filter (where action = 'UPDATE'), 0) as replaced#N""";

  private static final String LANDED =
      """
      ,
        coalesce(sum(r.#C), 0) as landed#N,
        coalesce(sum(r.#C) filter (where r.dusky_first and #A), 0) as chosen#N""";

  /** A text for each total; {@code #C} is replaced by the column, {@code #N} by its number. */
  private String sums(String form) {
    StringBuilder sql = new StringBuilder();
    int number = 0;
    for (String total : plan.merge().totals()) {
      sql.append(
          form.replace("#C", ScratchNames.quote(total)).replace("#N", String.valueOf(number++)));
    }
    return sql.toString();
  }

  /** Whether the ranked row {@code r} is set aside. */
  private String unclear() {
    return "r.dusky_tied or r.dusky_unknown is not null or "
        + each(keys, " or ", key -> column("r", key) + " is null");
  }

  private static String counted(String older) {
    return "case when %s then nextval('%s') > 0 else false end".formatted(older, OLDER);
  }

  @Override
  public String olderSums() {
    if (plan.merge().totals().isEmpty() || older().isEmpty()) {
      return "";
    }
    return """
        %s
        select %s
        from ranked r join %s t on %s
        where r.dusky_first and not (%s) and (select is_called from %s)
          and %s"""
        .formatted(
            new BatchSql(plan, request).commonOnce(),
            sums(", coalesce(sum(r.#C), 0)").substring(2),
            target,
            same("t", "r", keys),
            unclear(),
            OLDER,
            older().get());
  }

  @Override
  public String unchangedCount() {
    return "select case when is_called then last_value else 0 end from " + SAME;
  }
}
