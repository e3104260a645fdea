package dev.dusky.warehouses.script;

import static dev.dusky.warehouses.script.ScratchNames.BATCH;
import static dev.dusky.warehouses.script.ScratchNames.TAKEN;
import static dev.dusky.warehouses.script.ScratchNames.TIED;
import static dev.dusky.warehouses.script.ScratchNames.column;
import static dev.dusky.warehouses.script.ScratchNames.each;
import static dev.dusky.warehouses.script.ScratchNames.list;
import static dev.dusky.warehouses.script.ScratchNames.quote;
import static dev.dusky.warehouses.script.ScratchNames.text;

import dev.dusky.core.merge.Lookup;
import dev.dusky.core.merge.Lookup.Unknown;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.merge.MergeStep;
import dev.dusky.core.merge.MergeStep.Effect;
import dev.dusky.warehouses.script.MergePlan.Column;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * The statements of a merge, in two parts: those that judge every landed row, and those that write
 * what was judged. Between them the caller counts.
 */
public abstract class MergeScript {

  final MergePlan plan;
  final MergeRequest request;
  final ScratchWords scratch;
  final String target;
  final List<String> keys;

  MergeScript(MergePlan plan, MergeRequest request, ScratchWords scratch) {
    this.plan = plan;
    this.request = request;
    this.scratch = scratch;
    this.target = quote(plan.merge().into());
    this.keys = plan.keyNames();
  }

  /** The script for a plan. */
  public static MergeScript of(MergePlan plan, MergeRequest request, ScratchWords scratch) {
    if (plan.merge().history().isPresent()) {
      return new HistoryScript(plan, request, scratch);
    }
    return OnePassScript.fits(plan, request)
        ? new OnePassScript(plan, request, scratch)
        : new PlainScript(plan, request, scratch);
  }

  /** The statements that give each landed row of the batch its outcome. */
  public final List<MergeStep> judge() {
    List<MergeStep> steps = new ArrayList<>();
    if (plan.merge().source() instanceof MergeSource.Landing landing && !request.retry()) {
      steps.add(taken(landing));
    }
    placeholders(steps);
    batch(steps);
    withdraw(steps);
    return steps;
  }

  /** Makes the batch and gives each row its outcome. */
  abstract void batch(List<MergeStep> steps);

  /** The statements that write the outcome into the target. */
  public abstract List<MergeStep> write();

  /** How many rows of the target could go, and how many do because the snapshot lacks them. */
  public abstract String sweepCount();

  /** How many landed rows there are. */
  public final String landedCount() {
    return new BatchSql(plan, request)
        .count()
        .orElse(
            "select coalesce(sum(case when dusky_rank = 1 then dusky_times end), 0) from " + BATCH);
  }

  /** How many rows of the target a {@link Effect#PASS} left unchanged. */
  public String unchangedCount() {
    return "select 0";
  }

  /**
   * The query for the sums of the landed rows that a {@link Effect#PASS} found older than the
   * target's, one for each total; no query if it found none.
   */
  public String olderSums() {
    return "";
  }

  /** How many rows have each outcome. */
  public abstract String census();

  /** Whether the target's row {@code t} is live and the batch has no row for it. */
  final String lacking() {
    return "(%s) in (\n  select %s from %s t where %s\n  except select %s from %s b)"
        .formatted(list("t", keys), list("t", keys), target, live(), list("b", keys), BATCH);
  }

  /** Whether the target's row {@code t} has not gone already. */
  abstract String live();

  private MergeStep taken(MergeSource.Landing landing) {
    String only =
        request.file().isPresent()
            ? "\n  and t.load_id = %d and t.file_id = %d"
                .formatted(request.file().get().loadId(), request.file().get().fileId())
            : "";
    return MergeStep.choose(
        TAKEN,
        "The posted files that this merge has not merged yet.",
        """
            select t.load_id, t.file_id, t.loaded_rows
            from dusky.tally t join dusky.load l on l.load_id = t.load_id
            where l.into_table = %s and t.state in ('posted', 'mended')
              and t.reversed_by is null and t.loaded_rows > 0
              and not exists (select 1 from dusky.merge_file m
                where m.merge_name = %s and m.load_id = t.load_id and m.file_id = t.file_id)%s"""
            .formatted(text(landing.table().toString()), text(plan.merge().name()), only));
  }

  /** Gives dimensions a member for each key they lack, where that is wanted. */
  private void placeholders(List<MergeStep> steps) {
    int number = 0;
    for (Lookup lookup : plan.merge().lookups()) {
      if (lookup.unknown() instanceof Unknown.Placeholder placeholder) {
        placeholder(steps, lookup, placeholder.column(), number);
      }
      number++;
    }
  }

  private void placeholder(List<MergeStep> steps, Lookup lookup, String column, int number) {
    String dimension = quote(lookup.table());
    List<String> names = List.copyOf(lookup.keys().keySet());
    List<String> landedKeys = new ArrayList<>();
    for (int key = 0; key < names.size(); key++) {
      landedKeys.add("l.dusky_k%d_%d".formatted(number, key));
    }
    String found = "";
    for (int key = 0; key < names.size(); key++) {
      found += (key > 0 ? " and " : "") + column("d", names.get(key)) + " = " + landedKeys.get(key);
    }
    String landed = "(\n" + new BatchSql(plan, request).landed() + "\n) l";
    Optional<String> since =
        lookup.validity().filter(v -> lookup.at().isPresent()).map(Lookup.Validity::from);
    if (since.isPresent()) {
      String from = column("d", since.get());
      steps.add(
          MergeStep.prepare(
              "A placeholder of %s holds from the first moment it is asked for."
                  .formatted(lookup.table()),
              """
              merge into %s d using (
              select %s, min(l.dusky_w%d) as dusky_since from %s
              where not l.dusky_gone group by %s
              ) n on (%s and %s)
              when matched and n.dusky_since < %s then update set %s = n.dusky_since"""
                  .formatted(
                      dimension,
                      String.join(", ", landedKeys),
                      number,
                      landed,
                      String.join(", ", landedKeys),
                      found.replace("= l.", "= n."),
                      column("d", column),
                      from,
                      quote(since.get()))));
    }
    List<String> columns = new ArrayList<>(names.stream().map(ScratchNames::quote).toList());
    List<String> values = new ArrayList<>();
    for (int key = 0; key < names.size(); key++) {
      values.add("m.dusky_m" + key);
    }
    since.ifPresent(
        name -> {
          columns.add(quote(name));
          values.add("m.dusky_since");
        });
    lookup
        .validity()
        .flatMap(Lookup.Validity::current)
        .ifPresent(
            name -> {
              columns.add(quote(name));
              values.add("true");
            });
    columns.add(quote(column));
    values.add("true");
    if (plan.looked().get(number).numbers()) {
      columns.add(quote(lookup.take()));
      values.add(
          next(lookup.take(), dimension, String.join(", ", values.subList(0, names.size()))));
    }
    List<String> made = new ArrayList<>();
    for (int key = 0; key < names.size(); key++) {
      made.add(landedKeys.get(key) + " as dusky_m" + key);
    }
    if (since.isPresent()) {
      made.add("min(l.dusky_w%d) as dusky_since".formatted(number));
    }
    steps.add(
        MergeStep.make(
            made(number),
            "Keys that %s lacks.".formatted(lookup.table()),
            scratch.make(
                made(number),
                """
                select %s
                from %s
                where not l.dusky_gone and %s%s
                  and not exists (select 1 from %s d where %s)
                group by %s"""
                    .formatted(
                        String.join(", ", made),
                        landed,
                        each(landedKeys, " and ", key -> key + " is not null"),
                        since.isPresent() ? " and l.dusky_w%d is not null".formatted(number) : "",
                        dimension,
                        found,
                        String.join(", ", landedKeys)))));
    steps.add(
        new MergeStep(
            Effect.PLACEHOLDER,
            "Members of %s with only a known key, until their row arrives."
                .formatted(lookup.table()),
            "insert into %s (%s)\nselect %s\nfrom %s m"
                .formatted(
                    dimension, String.join(", ", columns), String.join(", ", values), made(number)),
            lookup.table().toString()));
  }

  private static String made(int number) {
    return "dusky_made_" + number;
  }

  /** Placeholders for rows that turned out to be rejects, or not to count, go again. */
  private void withdraw(List<MergeStep> steps) {
    int number = 0;
    for (Lookup lookup : plan.merge().lookups()) {
      if (lookup.unknown() instanceof Unknown.Placeholder placeholder) {
        List<String> same = new ArrayList<>();
        int key = 0;
        for (String name : lookup.keys().keySet()) {
          same.add("%s = m.dusky_m%d".formatted(column("d", name), key++));
        }
        String refers =
            plan.merge().lookups().stream()
                .filter(other -> other.table().equals(lookup.table()))
                .map(o -> "%s = %s".formatted(column("b", o.column()), column("d", o.take())))
                .collect(Collectors.joining(" or "));
        steps.add(
            new MergeStep(
                Effect.WITHDRAW,
                "Remove placeholders of %s that no row to be written refers to."
                    .formatted(lookup.table()),
                """
                delete from %s d
                where %s and exists (select 1 from %s m where %s)
                  and not exists (select 1 from %s b where (%s)
                    and b.dusky_outcome not in ('unknown-key', 'null-key', 'null-time', 'ambiguous',
                      'key-not-unique', 'superseded', 'unchanged'))"""
                    .formatted(
                        quote(lookup.table()),
                        column("d", placeholder.column()),
                        made(number),
                        String.join(" and ", same),
                        BATCH,
                        refers),
                lookup.table().toString()));
      }
      number++;
    }
  }

  /**
   * Rows that no declared column distinguishes from the first of their key: equal, or ambiguous.
   */
  final void ties(List<MergeStep> steps, List<String> partition) {
    List<String> contents = new ArrayList<>();
    contents.add("dusky_gone");
    for (Column column : plan.compared()) {
      String name = quote(column.name());
      contents.add(column.json() ? "cast(%s as varchar) as %s".formatted(name, name) : name);
    }
    String names = String.join(", ", partition);
    steps.add(
        MergeStep.ties(
            TIED,
            "Different rows of one key with equal latest-by values: the correct one is unknown.",
            scratch.make(
                TIED,
                """
                select %s from (
                  select distinct %s, %s from %s
                  where (%s) in (select %s from %s where dusky_rank > 1)
                ) c
                group by %s having count(*) > 1"""
                    .formatted(
                        names,
                        names,
                        String.join(", ", contents),
                        BATCH,
                        names,
                        names,
                        BATCH,
                        names))));
    steps.add(
        MergeStep.ties(
            "They are rejects.",
            """
            update %s set dusky_outcome = 'ambiguous'
            where dusky_outcome not in ('unknown-key', 'null-key', 'null-time')
              and (%s) in (select %s from %s)"""
                .formatted(BATCH, names, names, TIED)));
    steps.add(
        MergeStep.ties(
            "Of equal rows one is kept.",
            """
            update %s set dusky_outcome = 'superseded'
            where dusky_rank > 1
              and dusky_outcome not in ('unknown-key', 'null-key', 'null-time', 'ambiguous')"""
                .formatted(BATCH)));
  }

  /** Puts new rows into the target; {@code own} has columns that only this kind of merge fills. */
  final MergeStep insert(String comment, String alias, String source, Map<String, String> own) {
    Map<String, String> filled = new LinkedHashMap<>();
    surrogate(alias)
        .ifPresent(number -> filled.put(plan.merge().surrogate().orElseThrow(), number));
    plan.columns().forEach(c -> filled.put(c.name(), column(alias, c.name())));
    filled.putAll(own);
    plan.merge().placeholder().ifPresent(p -> filled.put(p, "false"));
    return new MergeStep(
        Effect.ADD,
        comment,
        "insert into %s (%s)\nselect %s\nfrom %s"
            .formatted(
                target,
                each(filled.keySet(), ", ", ScratchNames::quote),
                String.join(", ", filled.values()),
                source),
        plan.merge().into().toString());
  }

  /** The number of new rows, where the target does not number them. */
  private Optional<String> surrogate(String alias) {
    return plan.merge()
        .surrogate()
        .filter(s -> !plan.surrogateFilled())
        .map(s -> next(s, target, list(alias, keys)));
  }

  /** The numbers behind those that a table has, in an order. */
  private static String next(String column, String table, String order) {
    return "(select coalesce(max(%s), 0) from %s) + row_number() over (order by %s)"
        .formatted(quote(column), table, order);
  }
}
