package dev.dusky.warehouses.script;

import static dev.dusky.warehouses.script.ScratchNames.BATCH;
import static dev.dusky.warehouses.script.ScratchNames.EVENT;
import static dev.dusky.warehouses.script.ScratchNames.OUTCOME;
import static dev.dusky.warehouses.script.ScratchNames.TWICE;
import static dev.dusky.warehouses.script.ScratchNames.VERSION;
import static dev.dusky.warehouses.script.ScratchNames.column;
import static dev.dusky.warehouses.script.ScratchNames.differ;
import static dev.dusky.warehouses.script.ScratchNames.each;
import static dev.dusky.warehouses.script.ScratchNames.list;
import static dev.dusky.warehouses.script.ScratchNames.quote;
import static dev.dusky.warehouses.script.ScratchNames.same;

import dev.dusky.core.merge.ExistingPolicy.History;
import dev.dusky.core.merge.GoneKeys;
import dev.dusky.core.merge.MergeStep;
import dev.dusky.core.merge.MergeStep.Effect;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * A merge into a target that keeps every version of each key. What landed and what is there become
 * events on one line of time: a version starts, or a key ends. A landed event takes the place of
 * one that is there at the same moment. A landed start that changes nothing against the event
 * before it is not a version, it only overwrites in place; one that says what the version behind it
 * says lets that one begin earlier. What remains are the versions that should be, each until the
 * next event; they are compared with the target's, so that late events find their place and rows
 * that are right are not touched. Keys with one landed row, later than what is there, need none of
 * this ({@link InOrder}).
 */
final class HistoryScript extends MergeScript {

  private final History history;
  private final String from;
  private final String until;
  private final String fromType;
  private final Optional<InOrder> inOrder;

  HistoryScript(MergePlan plan, MergeRequest request, ScratchWords scratch) {
    super(plan, request, scratch);
    this.history = plan.merge().history().orElseThrow();
    this.from = quote(history.from());
    this.until = quote(history.until());
    this.fromType = plan.target().column(history.from()).orElseThrow().typeText();
    this.inOrder = InOrder.of(plan);
  }

  @Override
  void batch(List<MergeStep> steps) {
    BatchSql batch = new BatchSql(plan, request);
    steps.add(
        MergeStep.rank(
            BATCH,
            "The landed rows as the target's columns, one for each key and moment.",
            scratch.make(
                BATCH,
                """
                %s%s
                select r.*, cast(null as %s) as dusky_from, false as dusky_swept,
                  cast(case
                    when r.dusky_unknown is not null then 'unknown-key'
                    when %s then 'null-key'
                    when r.dusky_at is null then 'null-time'%s
                  end as varchar(20)) as dusky_outcome%s
                from %s
                where %s or r.dusky_at is null"""
                    .formatted(
                        batch.common(),
                        inOrder.map(InOrder::common).orElse(""),
                        fromType,
                        each(keys, " or ", key -> column("r", key) + " is null"),
                        inOrder.map(InOrder::outcomes).orElse(" else 'pending'"),
                        inOrder.map(o -> ", " + o.open() + " as dusky_open").orElse(""),
                        inOrder.map(InOrder::join).orElse("ranked r"),
                        batch.kept()))));
    ties(
        steps,
        Stream.concat(keys.stream().map(ScratchNames::quote), Stream.of("dusky_at")).toList());
    steps.addAll(overlaps());
    if (request.sweep()) {
      steps.add(sweep());
    }
    plan.merge().placeholder().ifPresent(p -> steps.add(takeOver(p)));
    steps.addAll(new HistoryEvents(plan, request, scratch).steps());
  }

  private List<MergeStep> overlaps() {
    String names = each(keys, ", ", ScratchNames::quote);
    return List.of(
        MergeStep.make(
            TWICE,
            "Keys whose versions in the target overlap already; they are not changed.",
            scratch.make(
                TWICE,
                """
                select distinct %s from (
                  select %s, t.%s as dusky_f, t.%s as dusky_u,
                    lead(t.%s) over (partition by %s order by t.%s) as dusky_next
                  from %s t
                  where (%s) in (select %s from %s b where b.dusky_outcome = 'pending')
                ) c
                where dusky_u < dusky_f or dusky_next = dusky_f
                  or dusky_next is not null and (dusky_u is null or dusky_u > dusky_next)"""
                    .formatted(
                        names,
                        list("t", keys),
                        from,
                        until,
                        from,
                        list("t", keys),
                        from,
                        target,
                        list("t", keys),
                        list("b", keys),
                        BATCH))),
        MergeStep.prepare(
            "They are rejects.",
            """
            update %s set dusky_outcome = 'key-not-unique'
            where dusky_outcome = 'pending' and (%s) in (select %s from %s)"""
                .formatted(BATCH, names, names, TWICE)));
  }

  private MergeStep sweep() {
    GoneKeys then = plan.merge().missing().orElseThrow().then();
    String columns = each(plan.columns(), ", ", c -> quote(c.name()));
    String values =
        each(
            plan.columns(),
            ", ",
            c -> then == GoneKeys.MARK && plan.marks(c) ? "true" : column("t", c.name()));
    return MergeStep.prepare(
        "Keys that the snapshot lacks; they end with it.",
        """
        insert into %s (%s, dusky_at, dusky_gone, dusky_rank, dusky_peer, dusky_times, dusky_swept, dusky_outcome)
        select %s, (select max(b.dusky_at) from %s b), true, 1, 1, 0, true, 'pending'
        from %s t
        where %s is null and %s"""
            .formatted(
                BATCH, columns, values, BATCH, target, column("t", history.until()), lacking()));
  }

  @Override
  String live() {
    String open = column("t", history.until()) + " is null";
    return plan.mark()
        .map(m -> open + " and not coalesce(" + column("t", m) + ", false)")
        .orElse(open);
  }

  private MergeStep takeOver(String placeholder) {
    String names = each(keys, ", ", ScratchNames::quote);
    String open =
        "from %s t where t.%s and t.%s is null and %s"
            .formatted(target, quote(placeholder), until, same("t", "b", keys));
    return MergeStep.prepare(
        "The first row of a key replaces its placeholder.",
        """
        update %s b set
          dusky_from = (select max(t.%s) %s),
          dusky_at = least(b.dusky_at, (select max(t.%s) %s))
        where b.dusky_outcome = 'pending' and not %s
          and (%s, b.dusky_at) in (
            select %s, min(dusky_at) from %s where dusky_outcome = 'pending' group by %s)
          and exists (select 1 %s)"""
            .formatted(
                BATCH,
                from,
                open,
                from,
                open,
                plan.ends("b"),
                list("b", keys),
                names,
                BATCH,
                names,
                open));
  }

  @Override
  public String census() {
    return """
        select dusky_outcome, count(*) from %s where dusky_outcome <> 'pending' group by dusky_outcome
        union all
        select dusky_outcome, count(*) from %s where not dusky_swept group by dusky_outcome"""
        .formatted(BATCH, OUTCOME);
  }

  @Override
  public String sweepCount() {
    return "select (select count(*) from %s t where %s),\n  (select count(*) from %s where dusky_swept)"
        .formatted(target, live(), BATCH);
  }

  @Override
  public List<MergeStep> write() {
    List<MergeStep> steps = new ArrayList<>();
    steps.add(
        new MergeStep(
            Effect.REMOVE,
            "Versions whose key ended when they began.",
            """
            delete from %s t where (%s, t.%s) in (
              select %s, dusky_at from %s where dusky_place = 1 and dusky_ends and dusky_there is not null)"""
                .formatted(
                    target, list("t", keys), from, each(keys, ", ", ScratchNames::quote), EVENT),
            plan.merge().into().toString()));
    steps.add(change());
    Map<String, String> validity = validity("v.dusky_since", "v.dusky_until");
    steps.add(insert("New versions.", "v", VERSION + " v where v.dusky_there is null", validity));
    inOrder.ifPresent(
        order -> {
          steps.add(order.close());
          Map<String, String> open = validity("b.dusky_at", "cast(null as %s)".formatted(fromType));
          steps.add(insert("New open versions.", "b", order.added(), open));
        });
    return steps;
  }

  private MergeStep change() {
    List<String> differences = new ArrayList<>();
    differences.add("t.%s <> v.dusky_since".formatted(from));
    differences.add("t.%s is distinct from v.dusky_until".formatted(until));
    history
        .current()
        .ifPresent(
            c -> differences.add(column("t", c) + " is distinct from (v.dusky_until is null)"));
    plan.merge()
        .placeholder()
        .ifPresent(
            p -> differences.add("v.dusky_landed and coalesce(" + column("t", p) + ", false)"));
    if (!plan.compared().isEmpty()) {
      differences.add(differ("t", "v", plan.compared()));
    }
    List<String> sets = new ArrayList<>();
    sets.add(from + " = v.dusky_since");
    sets.add(until + " = v.dusky_until");
    history.current().ifPresent(c -> sets.add(quote(c) + " = (v.dusky_until is null)"));
    plan.values().forEach(c -> sets.add(quote(c.name()) + " = " + column("v", c.name())));
    plan.merge()
        .placeholder()
        .ifPresent(
            p ->
                sets.add(
                    "%s = (coalesce(%s, false) and not v.dusky_landed)"
                        .formatted(quote(p), column("t", p))));
    return new MergeStep(
        Effect.CHANGE,
        "Existing versions that change: closed, or overwritten in place.",
        """
        merge into %s t using (
          select * from %s where dusky_there is not null
        ) v on (%s and t.%s = v.dusky_there)
        when matched and (
          %s)
        then update set
          %s"""
            .formatted(
                target,
                VERSION,
                same("t", "v", keys),
                from,
                String.join("\n  or ", differences),
                String.join(",\n  ", sets)),
        plan.merge().into().toString());
  }

  private Map<String, String> validity(String since, String end) {
    Map<String, String> validity = new LinkedHashMap<>();
    validity.put(history.from(), since);
    validity.put(history.until(), end);
    history.current().ifPresent(c -> validity.put(c, end + " is null"));
    return validity;
  }
}
