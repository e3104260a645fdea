package dev.dusky.warehouses.script;

import static dev.dusky.warehouses.script.ScratchNames.BATCH;
import static dev.dusky.warehouses.script.ScratchNames.ENDED;
import static dev.dusky.warehouses.script.ScratchNames.EVENT;
import static dev.dusky.warehouses.script.ScratchNames.OUTCOME;
import static dev.dusky.warehouses.script.ScratchNames.VERSION;
import static dev.dusky.warehouses.script.ScratchNames.column;
import static dev.dusky.warehouses.script.ScratchNames.comparable;
import static dev.dusky.warehouses.script.ScratchNames.differ;
import static dev.dusky.warehouses.script.ScratchNames.each;
import static dev.dusky.warehouses.script.ScratchNames.list;
import static dev.dusky.warehouses.script.ScratchNames.quote;
import static dev.dusky.warehouses.script.ScratchNames.same;

import dev.dusky.core.merge.ExistingPolicy.History;
import dev.dusky.core.merge.GoneKeys;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.merge.MergeStep;
import dev.dusky.warehouses.script.MergePlan.Column;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * The line of time of each key: the events on it, the versions that follow from them, and what each
 * landed row comes to. {@link HistoryScript} has the rules.
 */
final class HistoryEvents {

  private final MergePlan plan;
  private final MergeRequest request;
  private final ScratchWords scratch;
  private final String target;
  private final List<String> keys;
  private final String from;
  private final String until;
  private final String fromType;

  HistoryEvents(MergePlan plan, MergeRequest request, ScratchWords scratch) {
    this.plan = plan;
    this.request = request;
    this.scratch = scratch;
    this.target = quote(plan.merge().into());
    this.keys = plan.keyNames();
    History history = plan.merge().history().orElseThrow();
    this.from = quote(history.from());
    this.until = quote(history.until());
    this.fromType = plan.target().column(history.from()).orElseThrow().typeText();
  }

  List<MergeStep> steps() {
    List<MergeStep> steps = new ArrayList<>();
    if (remembersEnds()) {
      steps.add(ended());
    }
    steps.add(events());
    steps.add(versions());
    steps.add(outcomes());
    return steps;
  }

  private List<Column> versioned() {
    return plan.compared().stream()
        .filter(c -> plan.makesVersion(c.name()) || plan.marks(c))
        .toList();
  }

  private List<Column> inPlace() {
    return plan.compared().stream()
        .filter(c -> !plan.makesVersion(c.name()) && !plan.marks(c))
        .toList();
  }

  /** Whether rows that were merged before can say that a key has ended. */
  private boolean remembersEnds() {
    return plan.provenance()
        && plan.merge().source() instanceof MergeSource.Landing
        && plan.merge().deleted().filter(d -> d.then() == GoneKeys.END).isPresent();
  }

  private MergeStep ended() {
    String names = each(keys, ", ", ScratchNames::quote);
    return MergeStep.make(
        ENDED,
        "Ends that landed before the versions that they end; they apply once those arrive.",
        scratch.make(
            ENDED,
            """
            %s
            select %s, r.dusky_at from ranked r
            where r.dusky_rank = 1 and r.dusky_gone and r.dusky_at is not null
              and (%s) in (select %s from %s where dusky_outcome = 'pending')"""
                .formatted(
                    new BatchSql(plan, request).before().rankedBefore(),
                    list("r", keys),
                    list("r", keys),
                    names,
                    BATCH)));
  }

  /**
   * The events of each key in order of time. Of several events at one time those that landed counts
   * before what is there, and a start before an end.
   */
  private MergeStep events() {
    String names = each(keys, ", ", ScratchNames::quote);
    String values = each(plan.values(), "", c -> ", " + quote(c.name()));
    String landedValues = each(plan.values(), "", c -> ", " + column("b", c.name()));
    String knownValues = each(plan.values(), "", c -> ", " + column("t", c.name()));
    String moment = "over (partition by " + names + ", dusky_at)";
    String line = "over (partition by " + names + " order by dusky_at)";
    String unlike =
        each(
            versioned(),
            "",
            c ->
                "\n      and %s is not distinct from lag(%s) %s"
                    .formatted(comparable("e", c), comparable("e", c), line));
    return MergeStep.make(
        EVENT,
        "The events of each key in order of time: landed rows, existing versions, ends.",
        scratch.make(
            EVENT,
            """
            with known as (
              select t.* from (
                select distinct %s from %s b where b.dusky_outcome = 'pending'
              ) k
              join %s t on %s
            ), everything as (
              select %s, b.dusky_at, 1 as dusky_place, %s as dusky_ends, b.dusky_gone, b.dusky_swept,
                b.dusky_from%s
              from %s b where b.dusky_outcome = 'pending'
              union all
              select %s, t.%s, 2, false, false, false, t.%s%s
              from known t
              union all
              select %s, t.%s, 3, true, false, false, cast(null as %s)%s
              from known t where t.%s is not null%s
            ), moments as (
              select x.*,
                row_number() over (partition by %s, dusky_at order by dusky_place) as dusky_first,
                coalesce(dusky_from, max(case when dusky_place = 2 then dusky_at end) %s) as dusky_there,
                max(case when dusky_place = 3 then 1 else 0 end) %s as dusky_ended,
                max(case when dusky_place = 1 then dusky_from end) over (partition by %s) as dusky_taken_over,
                max(case when dusky_place = 2 then 1 else 0 end) over (partition by %s) as dusky_known
              from everything x
            ), judged as (
              select e.*, lag(dusky_ends) %s as dusky_after_end,
                coalesce(sum(case when dusky_ends then 0 else 1 end) over (partition by %s
                  order by dusky_at rows between unbounded preceding and 1 preceding), 0) as dusky_earlier,
                coalesce(dusky_place = 1 and not dusky_ends and dusky_there is null
                  and not lag(dusky_ends) %s%s, false) as dusky_repeats
              from moments e
              where dusky_first = 1
                and not (dusky_place = 2 and dusky_taken_over is not null and dusky_at = dusky_taken_over)
            ), grouped as (
              select j.*, sum(case when dusky_repeats then 0 else 1 end) %s as dusky_run
              from judged j
            ), begun as (
              select g.*, first_value(dusky_place = 1 and dusky_there is null) over (
                partition by %s, dusky_run order by dusky_at) as dusky_new
              from grouped g
            ), extended as (
              select e.*, coalesce(dusky_place = 2 and lag(dusky_place) %s = 1 and not dusky_after_end
                and lag(dusky_new) %s%s, false) as dusky_joins
              from begun e
            ), joined as (
              select x.*, sum(case when dusky_repeats or dusky_joins then 0 else 1 end) %s as dusky_group
              from extended x
            )
            select y.*, coalesce(dusky_there, max(case when dusky_joins then dusky_at end) over (
              partition by %s, dusky_group)) as dusky_version_there
            from joined y"""
                .formatted(
                    list("b", keys),
                    BATCH,
                    target,
                    same("t", "k", keys),
                    list("b", keys),
                    plan.ends("b"),
                    landedValues,
                    BATCH,
                    list("t", keys),
                    from,
                    from,
                    knownValues,
                    list("t", keys),
                    until,
                    fromType,
                    knownValues,
                    until,
                    remembersEnds() ? endedBefore() : "",
                    names,
                    moment,
                    moment,
                    names,
                    names,
                    line,
                    names,
                    line,
                    unlike,
                    line,
                    names,
                    line,
                    line,
                    unlike,
                    line,
                    names)));
  }

  private String endedBefore() {
    return """

          union all
          select %s, b.dusky_at, 4, true, false, false, cast(null as %s)%s
          from %s b"""
        .formatted(
            list("b", keys),
            fromType,
            each(
                plan.values(),
                "",
                c ->
                    ", cast(null as %s)"
                        .formatted(plan.target().column(c.name()).orElseThrow().typeText())),
            ENDED);
  }

  private MergeStep versions() {
    String names = each(keys, ", ", ScratchNames::quote);
    String group = "(partition by " + names + ", dusky_group order by dusky_at";
    String last =
        each(
            inPlace(),
            "",
            c ->
                ",\n      last_value(%s) over %s\n        rows between unbounded preceding and unbounded following) as %s"
                    .formatted(column("e", c.name()), group, quote("dusky_last_" + c.name())));
    String values =
        each(
            plan.values(),
            "",
            c ->
                inPlace().contains(c)
                    ? ", " + quote("dusky_last_" + c.name()) + " as " + quote(c.name())
                    : ", " + quote(c.name()));
    return MergeStep.make(
        VERSION,
        "The versions that should be, each until the next event of its key.",
        scratch.make(
            VERSION,
            """
            select %s, dusky_at as dusky_since, dusky_until, dusky_version_there as dusky_there,
              dusky_place = 1 as dusky_landed%s
            from (
              select v.*, lead(dusky_at) over (partition by %s order by dusky_at) as dusky_until
              from (
                select e.*%s
                from %s e
              ) v where not dusky_repeats and not dusky_joins
            ) u
            where not dusky_ends"""
                .formatted(names, values, names, last, EVENT)));
  }

  private MergeStep outcomes() {
    Optional<String> placeholder = plan.merge().placeholder();
    String asItWas =
        "t.%s = e.dusky_at and not %s%s"
            .formatted(
                from,
                differ("t", "e", plan.compared()),
                placeholder
                    .map(p -> " and not coalesce(" + column("t", p) + ", false)")
                    .orElse(""));
    String names = each(keys, ", ", ScratchNames::quote);
    String firsts =
        each(
            inPlace(),
            "",
            c ->
                ",\n    first_value(%s) over (partition by %s, dusky_group order by dusky_at) as %s"
                    .formatted(column("x", c.name()), names, quote("dusky_first_" + c.name())));
    String repeated =
        inPlace().isEmpty()
            ? "'unchanged'"
            : "case when dusky_latest = 1 and (%s) then 'updated' else 'unchanged' end"
                .formatted(
                    each(
                        inPlace(),
                        " or ",
                        c ->
                            "%s is distinct from %s"
                                .formatted(
                                    comparable("e", c),
                                    c.json()
                                        ? "cast(e."
                                            + quote("dusky_first_" + c.name())
                                            + " as varchar)"
                                        : "e." + quote("dusky_first_" + c.name()))));
    String changed =
        plan.mark().isPresent()
            ? "case when e.dusky_gone then 'deleted' else 'updated' end"
            : "'updated'";
    return MergeStep.make(
        OUTCOME,
        "The outcome of each landed row.",
        scratch.make(
            OUTCOME,
            """
            select %s, e.dusky_at, e.dusky_swept,
              case
                when e.dusky_ends then case
                  when e.dusky_there is not null then 'deleted'
                  when coalesce(e.dusky_after_end, true) or e.dusky_ended = 1 then 'unchanged'
                  else 'deleted' end
                when e.dusky_repeats then %s
                when e.dusky_version_there is not null then case
                  when %s then 'unchanged' else %s end
                when e.dusky_known = 1 or e.dusky_earlier > 0 then %s
                else 'inserted'
              end as dusky_outcome
            from (
              select x.*,
                row_number() over (partition by %s, dusky_group order by dusky_at desc) as dusky_latest%s
              from %s x
            ) e
            left join %s t on %s and t.%s = e.dusky_version_there
            where e.dusky_place = 1"""
                .formatted(
                    list("e", keys),
                    repeated,
                    asItWas,
                    changed,
                    changed,
                    names,
                    firsts,
                    EVENT,
                    target,
                    same("t", "e", keys),
                    from)));
  }
}
