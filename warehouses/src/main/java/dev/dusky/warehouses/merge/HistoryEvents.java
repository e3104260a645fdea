package dev.dusky.warehouses.merge;

import static dev.dusky.warehouses.merge.Words.BATCH;
import static dev.dusky.warehouses.merge.Words.ENDED;
import static dev.dusky.warehouses.merge.Words.EVENT;
import static dev.dusky.warehouses.merge.Words.OUTCOME;
import static dev.dusky.warehouses.merge.Words.VERSION;
import static dev.dusky.warehouses.merge.Words.column;
import static dev.dusky.warehouses.merge.Words.comparable;
import static dev.dusky.warehouses.merge.Words.differ;
import static dev.dusky.warehouses.merge.Words.each;
import static dev.dusky.warehouses.merge.Words.list;
import static dev.dusky.warehouses.merge.Words.quote;
import static dev.dusky.warehouses.merge.Words.same;

import dev.dusky.core.merge.Existing.History;
import dev.dusky.core.merge.Leaving;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.warehouses.merge.MergePlan.Column;
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
        && plan.merge().deleted().filter(d -> d.then() == Leaving.END).isPresent();
  }

  private MergeStep ended() {
    String names = each(keys, ", ", Words::quote);
    return MergeStep.make(
        ENDED,
        "Ends that landed before the versions that they end: they hold as soon as those arrive.",
        scratch.make(
            ENDED,
            """
            %s
            select %s, r.dl_at from ranked r
            where r.dl_rank = 1 and r.dl_gone and r.dl_at is not null
              and (%s) in (select %s from %s where dl_outcome = 'pending')"""
                .formatted(
                    new BatchSql(plan, request).before().common(),
                    list("r", keys),
                    list("r", keys),
                    names,
                    BATCH)));
  }

  /**
   * What happens to each key, on one line of time. Of several things at one moment what landed
   * counts before what is there, and a start before an end.
   */
  private MergeStep events() {
    String names = each(keys, ", ", Words::quote);
    String values = each(plan.values(), "", c -> ", " + quote(c.name()));
    String landedValues = each(plan.values(), "", c -> ", " + column("b", c.name()));
    String knownValues = each(plan.values(), "", c -> ", " + column("t", c.name()));
    String moment = "over (partition by " + names + ", dl_at)";
    String line = "over (partition by " + names + " order by dl_at)";
    String unlike =
        each(
            versioned(),
            "",
            c ->
                "\n      and %s is not distinct from lag(%s) %s"
                    .formatted(comparable("e", c), comparable("e", c), line));
    return MergeStep.make(
        EVENT,
        "What happens to each key, on one line of time: what landed, what is there, what ended.",
        scratch.make(
            EVENT,
            """
            with known as (
              select t.* from (
                select distinct %s from %s b where b.dl_outcome = 'pending'
              ) k
              join %s t on %s
            ), everything as (
              select %s, b.dl_at, 1 as dl_place, %s as dl_ends, b.dl_gone, b.dl_swept,
                b.dl_from%s
              from %s b where b.dl_outcome = 'pending'
              union all
              select %s, t.%s, 2, false, false, false, t.%s%s
              from known t
              union all
              select %s, t.%s, 3, true, false, false, cast(null as %s)%s
              from known t where t.%s is not null%s
            ), moments as (
              select x.*,
                row_number() over (partition by %s, dl_at order by dl_place) as dl_first,
                coalesce(dl_from, max(case when dl_place = 2 then dl_at end) %s) as dl_there,
                max(case when dl_place = 3 then 1 else 0 end) %s as dl_ended,
                max(case when dl_place = 1 then dl_from end) over (partition by %s) as dl_taken_over,
                max(case when dl_place = 2 then 1 else 0 end) over (partition by %s) as dl_known
              from everything x
            ), judged as (
              select e.*, lag(dl_ends) %s as dl_after_end,
                coalesce(sum(case when dl_ends then 0 else 1 end) over (partition by %s
                  order by dl_at rows between unbounded preceding and 1 preceding), 0) as dl_earlier,
                coalesce(dl_place = 1 and not dl_ends and dl_there is null
                  and not lag(dl_ends) %s%s, false) as dl_repeats
              from moments e
              where dl_first = 1
                and not (dl_place = 2 and dl_taken_over is not null and dl_at = dl_taken_over)
            ), grouped as (
              select j.*, sum(case when dl_repeats then 0 else 1 end) %s as dl_run
              from judged j
            ), begun as (
              select g.*, first_value(dl_place = 1 and dl_there is null) over (
                partition by %s, dl_run order by dl_at) as dl_new
              from grouped g
            ), extended as (
              select e.*, coalesce(dl_place = 2 and lag(dl_place) %s = 1 and not dl_after_end
                and lag(dl_new) %s%s, false) as dl_joins
              from begun e
            ), joined as (
              select x.*, sum(case when dl_repeats or dl_joins then 0 else 1 end) %s as dl_group
              from extended x
            )
            select y.*, coalesce(dl_there, max(case when dl_joins then dl_at end) over (
              partition by %s, dl_group)) as dl_version_there
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
          select %s, b.dl_at, 4, true, false, false, cast(null as %s)%s
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
    String names = each(keys, ", ", Words::quote);
    String group = "(partition by " + names + ", dl_group order by dl_at";
    String last =
        each(
            inPlace(),
            "",
            c ->
                ",\n      last_value(%s) over %s\n        rows between unbounded preceding and unbounded following) as %s"
                    .formatted(column("e", c.name()), group, quote("dl_last_" + c.name())));
    String values =
        each(
            plan.values(),
            "",
            c ->
                inPlace().contains(c)
                    ? ", " + quote("dl_last_" + c.name()) + " as " + quote(c.name())
                    : ", " + quote(c.name()));
    return MergeStep.make(
        VERSION,
        "The versions that should be, each until the next event of its key.",
        scratch.make(
            VERSION,
            """
            select %s, dl_at as dl_since, dl_until, dl_version_there as dl_there,
              dl_place = 1 as dl_landed%s
            from (
              select v.*, lead(dl_at) over (partition by %s order by dl_at) as dl_until
              from (
                select e.*%s
                from %s e
              ) v where not dl_repeats and not dl_joins
            ) u
            where not dl_ends"""
                .formatted(names, values, names, last, EVENT)));
  }

  private MergeStep outcomes() {
    Optional<String> placeholder = plan.merge().placeholder();
    String asItWas =
        "t.%s = e.dl_at and not %s%s"
            .formatted(
                from,
                differ("t", "e", plan.compared()),
                placeholder
                    .map(p -> " and not coalesce(" + column("t", p) + ", false)")
                    .orElse(""));
    String names = each(keys, ", ", Words::quote);
    String firsts =
        each(
            inPlace(),
            "",
            c ->
                ",\n    first_value(%s) over (partition by %s, dl_group order by dl_at) as %s"
                    .formatted(column("x", c.name()), names, quote("dl_first_" + c.name())));
    String repeated =
        inPlace().isEmpty()
            ? "'unchanged'"
            : "case when dl_latest = 1 and (%s) then 'updated' else 'unchanged' end"
                .formatted(
                    each(
                        inPlace(),
                        " or ",
                        c ->
                            "%s is distinct from %s"
                                .formatted(
                                    comparable("e", c),
                                    c.json()
                                        ? "cast(e." + quote("dl_first_" + c.name()) + " as varchar)"
                                        : "e." + quote("dl_first_" + c.name()))));
    String changed =
        plan.mark().isPresent()
            ? "case when e.dl_gone then 'deleted' else 'updated' end"
            : "'updated'";
    return MergeStep.make(
        OUTCOME,
        "What each landed row comes to.",
        scratch.make(
            OUTCOME,
            """
            select %s, e.dl_at, e.dl_swept,
              case
                when e.dl_ends then case
                  when e.dl_there is not null then 'deleted'
                  when coalesce(e.dl_after_end, true) or e.dl_ended = 1 then 'unchanged'
                  else 'deleted' end
                when e.dl_repeats then %s
                when e.dl_version_there is not null then case
                  when %s then 'unchanged' else %s end
                when e.dl_known = 1 or e.dl_earlier > 0 then %s
                else 'inserted'
              end as dl_outcome
            from (
              select x.*,
                row_number() over (partition by %s, dl_group order by dl_at desc) as dl_latest%s
              from %s x
            ) e
            left join %s t on %s and t.%s = e.dl_version_there
            where e.dl_place = 1"""
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
