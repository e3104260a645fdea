package dev.dusky.warehouses.script;

import static dev.dusky.warehouses.script.ScratchNames.BATCH;
import static dev.dusky.warehouses.script.ScratchNames.column;
import static dev.dusky.warehouses.script.ScratchNames.differ;
import static dev.dusky.warehouses.script.ScratchNames.each;
import static dev.dusky.warehouses.script.ScratchNames.list;
import static dev.dusky.warehouses.script.ScratchNames.quote;
import static dev.dusky.warehouses.script.ScratchNames.same;

import dev.dusky.core.merge.ExistingPolicy.History;
import dev.dusky.core.merge.MergeStep;
import dev.dusky.core.merge.MergeStep.Effect;
import java.util.List;
import java.util.Optional;

/**
 * The keys of a history that need no line of time: one row of the key landed, and it is later than
 * the open version, or the key is new. Such a row is a new version or changes nothing. Its outcome
 * is known as soon as it is read; the other keys go the way of {@link HistoryEvents}.
 */
final class InOrder {

  private final MergePlan plan;
  private final List<String> keys;
  private final History history;
  private final String target;
  private final String from;
  private final String until;

  private InOrder(MergePlan plan) {
    this.plan = plan;
    this.keys = plan.keyNames();
    this.history = plan.merge().history().orElseThrow();
    this.target = quote(plan.merge().into());
    this.from = quote(history.from());
    this.until = quote(history.until());
  }

  /**
   * This for a merge in which the open version alone decides about such keys: without deletions,
   * which may have landed before what they end, placeholders, columns that are overwritten in
   * place, and numbers that are given in order.
   */
  static Optional<InOrder> of(MergePlan plan) {
    boolean fits =
        plan.merge().deleted().isEmpty()
            && plan.merge().placeholder().isEmpty()
            && (plan.merge().surrogate().isEmpty() || plan.surrogateFilled())
            && plan.compared().stream().allMatch(c -> plan.makesVersion(c.name()));
    return fits ? Optional.of(new InOrder(plan)) : Optional.empty();
  }

  /**
   * The common table expressions {@code last}, the last version of each landed key, with whether
   * the key's versions are odd, and {@code alone}, the ranked rows with how many their key has.
   */
  String common() {
    String names = each(keys, ", ", ScratchNames::quote);
    String later = "lag(t.%s) over (partition by %s order by t.%s desc)";
    String next = later.formatted(from, list("t", keys), from);
    String flag =
        history
            .current()
            .map(c -> " or %s is distinct from (t.%s is null)".formatted(column("t", c), until))
            .orElse("");
    return """
        , last as (
          select * from (
            select v.*, max(dusky_odd) over (partition by %s) as dusky_odd_key
            from (
              select t.*,
                row_number() over (partition by %s order by t.%s desc) as dusky_back,
                case when t.%s <= t.%s or %s = t.%s
                  or %s is not null and (t.%s is null or t.%s > %s)%s
                  then 1 else 0 end as dusky_odd
              from %s t where (%s) in (select %s from looked l)
            ) v
          ) w where dusky_back = 1
        ), alone as (
          select r.*, count(*) over (partition by %s) as dusky_of_key from ranked r
        )"""
        .formatted(
            names,
            list("t", keys),
            from,
            until,
            from,
            next,
            from,
            next,
            until,
            until,
            next,
            flag,
            target,
            list("t", keys),
            list("l", keys),
            names);
  }

  /** The join of the ranked rows {@code r} with those expressions. */
  String join() {
    return "alone r left join last v on " + same("v", "r", keys);
  }

  /** The moment at which the open version began that the row {@code r} follows. */
  String open() {
    return column("v", history.from());
  }

  /** The branches of a {@code case} that give such rows {@code r} their outcome. */
  String outcomes() {
    return """

            when r.dusky_of_key > 1 then 'pending'
            when %s is null then 'inserted'
            when v.dusky_odd_key = 1 or v.%s is not null or v.%s >= r.dusky_at then 'pending'
            when %s then 'updated'
            else 'unchanged'"""
        .formatted(column("v", keys.get(0)), until, from, differ("v", "r", plan.compared()));
  }

  /** Closes the versions that such rows follow. */
  MergeStep close() {
    String current = history.current().map(c -> ", " + quote(c) + " = false").orElse("");
    return new MergeStep(
        Effect.CHANGE,
        "Open versions that one later row follows are closed.",
        """
        merge into %s t using (
          select * from %s where dusky_outcome = 'updated'
        ) b on (%s and t.%s = b.dusky_open)
        when matched then update set %s = b.dusky_at%s"""
            .formatted(target, BATCH, same("t", "b", keys), from, until, current),
        plan.merge().into().toString());
  }

  /** The rows of the batch that are such new versions. */
  String added() {
    return BATCH + " b where b.dusky_outcome in ('inserted', 'updated')";
  }
}
