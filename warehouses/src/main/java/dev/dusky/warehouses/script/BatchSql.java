package dev.dusky.warehouses.script;

import static dev.dusky.warehouses.script.ScratchNames.BATCH;
import static dev.dusky.warehouses.script.ScratchNames.TAKEN;
import static dev.dusky.warehouses.script.ScratchNames.column;
import static dev.dusky.warehouses.script.ScratchNames.each;
import static dev.dusky.warehouses.script.ScratchNames.quote;
import static dev.dusky.warehouses.script.ScratchNames.text;

import dev.dusky.core.merge.Lookup;
import dev.dusky.core.merge.Lookup.Unknown;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.warehouses.script.MergePlan.Column;
import dev.dusky.warehouses.script.MergePlan.Looked;
import dev.dusky.warehouses.script.MergePlan.Ordering;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * The landed rows as the target's columns: taken from the source ({@code landed}), with what comes
 * from dimensions ({@code looked}), and ranked within their key ({@code ranked}). Of each key only
 * the rows of first rank, and rows that no declared column distinguishes from it.
 */
final class BatchSql {

  private final MergePlan plan;
  private final MergeRequest request;
  private final Rows rows;

  /** Which landed rows are taken. */
  private enum Rows {
    NEW,
    OF_PENDING_KEYS,
    EVER_MERGED
  }

  BatchSql(MergePlan plan, MergeRequest request) {
    this(plan, request, Rows.NEW);
  }

  private BatchSql(MergePlan plan, MergeRequest request, Rows rows) {
    this.plan = plan;
    this.request = request;
    this.rows = rows;
  }

  /**
   * The same for the rows of the batch's pending keys that were merged before, those that were
   * rejected left out. Where the latest row of a merge could not be determined, that merge says
   * nothing of the key and moment: it is {@code dusky_void}, and is still ranked.
   */
  BatchSql before() {
    return new BatchSql(plan, request, Rows.OF_PENDING_KEYS);
  }

  /** The same for all rows that were merged before. */
  BatchSql ever() {
    return new BatchSql(plan, request, Rows.EVER_MERGED);
  }

  /** The common table expressions, the last of them {@code ranked}. */
  String common() {
    return "with landed as (\n%s\n), looked as (\n%s\n), ranked as (\n%s\n)"
        .formatted(landed(), looked(), ranked());
  }

  /** The rows of the source that are taken, each value under the name of its column. */
  String landed() {
    List<String> values = new ArrayList<>();
    if (plan.provenance()) {
      values.add("s.dusky_load, s.dusky_file, s.dusky_row");
    }
    for (Column column : plan.columns()) {
      if (!column.carried() && !column.looked()) {
        values.add(column.expression() + " as " + quote(column.name()));
      }
    }
    int i = 0;
    for (Ordering ordering : plan.latest()) {
      values.add(ordering.expression() + " as dusky_l" + i++);
    }
    plan.at().ifPresent(at -> values.add(at + " as dusky_at"));
    values.add(plan.gone() + " as dusky_gone");
    if (rows == Rows.OF_PENDING_KEYS) {
      values.add("m.merge_id as dusky_merge");
      values.add("exists (%s and x.code = 'ambiguous') as dusky_void".formatted(reject()));
    }
    int number = 0;
    for (Lookup lookup : plan.merge().lookups()) {
      int key = 0;
      for (String expression : lookup.keys().values()) {
        values.add(expression + " as dusky_k%d_%d".formatted(number, key++));
      }
      int n = number++;
      lookup.at().ifPresent(at -> values.add(at + " as dusky_w" + n));
    }
    String from = source() + " s";
    if (rows == Rows.OF_PENDING_KEYS) {
      from +=
          " join dusky.merge_file m on m.merge_name = %s and m.load_id = s.dusky_load and m.file_id = s.dusky_file"
              .formatted(text(plan.merge().name()));
    }
    return "  select " + String.join(",\n    ", values) + "\n  from " + from + taken();
  }

  /** The query for the open reject of a row of the source. */
  private String reject() {
    return """
        select 1 from dusky.merge_reject x
              where x.merge_name = %s and x.state = 'open' and x.load_id = s.dusky_load
                and x.file_id = s.dusky_file and x.record_number = s.dusky_row"""
        .formatted(text(plan.merge().name()));
  }

  private String source() {
    return plan.merge().source() instanceof MergeSource.Query query
        ? "(\n" + query.sql().strip().indent(4) + "  )"
        : quote(((MergeSource.Landing) plan.merge().source()).table());
  }

  private String taken() {
    List<String> conditions = new ArrayList<>();
    if (rows != Rows.NEW) {
      String name = text(plan.merge().name());
      // Keys from dimensions are not known here yet; without them some rows too many are looked at.
      List<Column> keys = plan.keys().stream().filter(key -> !key.looked()).toList();
      String pending =
          keys.isEmpty() || rows == Rows.EVER_MERGED
              ? ""
              : "(%s) in (select %s from %s where dusky_outcome = 'pending')\n    and "
                  .formatted(
                      each(keys, ", ", Column::expression),
                      each(keys, ", ", key -> quote(key.name())),
                      BATCH);
      return """

          where %s(s.dusky_load, s.dusky_file) in (
              select load_id, file_id from dusky.merge_file where merge_name = %s)
            and not exists (%s%s)"""
          .formatted(
              pending,
              name,
              reject(),
              rows == Rows.OF_PENDING_KEYS ? " and x.code <> 'ambiguous'" : "");
    }
    if (plan.merge().source() instanceof MergeSource.Landing) {
      conditions.add(
          request.retry()
              ? """
                (s.dusky_load, s.dusky_file, s.dusky_row) in (
                    select x.load_id, x.file_id, x.record_number from dusky.merge_reject x
                    where x.merge_name = %s and x.state = 'retried' and x.retried_by = %d)"""
                  .formatted(text(plan.merge().name()), request.mergeId())
              : among());
    }
    request
        .highWater()
        .ifPresent(
            limit -> {
              String column = request.newer();
              conditions.add("(%s > %s or %s is null)".formatted(column, limit, column));
            });
    return conditions.isEmpty() ? "" : "\n  where " + String.join("\n    and ", conditions);
  }

  private String looked() {
    if (plan.merge().lookups().isEmpty()) {
      return "  select l.*, cast(null as varchar) as dusky_unknown from landed l";
    }
    List<String> values = new ArrayList<>();
    List<String> unknown = new ArrayList<>();
    StringBuilder joins = new StringBuilder();
    int number = 0;
    for (Lookup lookup : plan.merge().lookups()) {
      Looked looked = plan.looked().get(number);
      String alias = "d" + number;
      String found = column(alias, lookup.take());
      if (lookup.unknown() instanceof Unknown.Default other) {
        String otherwise = "cast(%s as %s)".formatted(text(other.value()), looked.type());
        String value = "coalesce(%s, %s)".formatted(found, otherwise);
        // A key that is null is not an unknown key: nothing is meant, where that may be.
        values.add(
            (looked.needed()
                    ? value
                    : "case when true%s then %s end".formatted(keysGiven(lookup, number), value))
                + " as "
                + quote(lookup.column()));
      } else {
        values.add(found + " as " + quote(lookup.column()));
        unknown.add(
            "case when %s is null%s and not l.dusky_gone then %s end"
                .formatted(
                    found,
                    looked.needed() ? "" : keysGiven(lookup, number),
                    text(lookup.column())));
      }
      joins.append(
          "\n  left join %s %s on %s"
              .formatted(quote(lookup.table()), alias, matches(lookup, number, alias)));
      number++;
    }
    unknown.add("cast(null as varchar)");
    return "  select l.*,\n    %s,\n    coalesce(%s) as dusky_unknown\n  from landed l%s"
        .formatted(String.join(",\n    ", values), String.join(",\n      ", unknown), joins);
  }

  private static String keysGiven(Lookup lookup, int number) {
    StringBuilder all = new StringBuilder();
    for (int key = 0; key < lookup.keys().size(); key++) {
      all.append(" and l.dusky_k%d_%d is not null".formatted(number, key));
    }
    return all.toString();
  }

  /** How a landed row finds its dimension's row. */
  static String matches(Lookup lookup, int number, String alias) {
    List<String> conditions = new ArrayList<>();
    int key = 0;
    for (String column : lookup.keys().keySet()) {
      conditions.add("%s = l.dusky_k%d_%d".formatted(column(alias, column), number, key++));
    }
    Optional<Lookup.Validity> validity = lookup.validity();
    if (validity.isPresent()) {
      String from = column(alias, validity.get().from());
      String until = column(alias, validity.get().until());
      conditions.add(
          lookup.at().isPresent()
              ? "%s <= l.dusky_w%d and (%s is null or %s > l.dusky_w%d)"
                  .formatted(from, number, until, until, number)
              : until + " is null");
    }
    return String.join(" and ", conditions);
  }

  /** Whether the rows of the source can be counted by themselves. */
  private boolean counted() {
    return plan.merge().source() instanceof MergeSource.Landing;
  }

  /** The query for how many rows are taken, if the batch does not show it. */
  Optional<String> count() {
    return counted()
        ? Optional.of("select count(*) from " + source() + " s" + taken())
        : Optional.empty();
  }

  /** The latest row of each merge before, and of those the latest of all. */
  String rankedBefore() {
    List<String> order = new ArrayList<>();
    for (int i = 0; i < plan.latest().size(); i++) {
      order.add("l.dusky_l%d desc nulls last".formatted(i));
    }
    order.add("l.dusky_load desc, l.dusky_file desc, l.dusky_row desc");
    String by = String.join(", ", order);
    String keys = each(plan.keys(), ", ", key -> "l." + quote(key.name())) + ", l.dusky_at";
    return """
        with landed as (
        %s
        ), looked as (
        %s
        ), said as (
          select l.*, row_number() over (partition by %s, l.dusky_merge order by %s) as dusky_last
          from looked l
        ), ranked as (
          select l.*, row_number() over (partition by %s order by %s) as dusky_rank
          from said l where l.dusky_last = 1 and not l.dusky_void
        )"""
        .formatted(landed(), looked(), keys, by, keys, by);
  }

  private String ranked() {
    List<String> partition = new ArrayList<>();
    plan.keys().forEach(key -> partition.add("l." + quote(key.name())));
    if (plan.merge().history().isPresent()) {
      partition.add("l.dusky_at");
    }
    List<String> order = new ArrayList<>();
    for (int i = 0; i < plan.latest().size(); i++) {
      order.add("l.dusky_l%d desc nulls last".formatted(i));
    }
    String by = "partition by " + String.join(", ", partition);
    String peers =
        order.isEmpty()
            ? "1"
            : "rank() over (%s order by %s)".formatted(by, String.join(", ", order));
    if (plan.provenance()) {
      order.add("l.dusky_load desc, l.dusky_file desc, l.dusky_row desc");
    }
    // Some engines want an order to number rows by; that of the key itself orders nothing.
    String ranks =
        by + " order by " + (order.isEmpty() ? partition.get(0) : String.join(", ", order));
    StringBuilder sums = new StringBuilder();
    int i = 0;
    for (String total : plan.merge().totals()) {
      sums.append(",\n    sum(l.%s) over (%s) as dusky_sum%d".formatted(quote(total), by, i++));
    }
    return """
             select l.*,
               row_number() over (%s) as dusky_rank,
               %s as dusky_peer,
               %s as dusky_times%s
             from looked l"""
        .formatted(ranks, peers, counted() ? "1" : "count(*) over (" + by + ")", sums);
  }

  /**
   * The common table expressions that read the rows once: {@code ranked} has whether a row is the
   * first of its key ({@code dusky_first}), and whether another row of the key shares its time
   * ({@code dusky_tied}). The rows come in the order of their keys.
   */
  String commonOnce() {
    // A membership that is compared with true is looked up in a hash table, row by row. A join
    // would estimate too few rows, and might sort them.
    String landed = landed().replace(among(), "(" + among() + ") is true");
    return "with landed as (\n%s\n), looked as (\n%s\n), ranked as (\n%s\n)"
        .formatted(landed, looked(), rankedOnce());
  }

  private static String among() {
    return "(s.dusky_load, s.dusky_file) in (select load_id, file_id from %s)".formatted(TAKEN);
  }

  private String rankedOnce() {
    List<String> order = new ArrayList<>();
    List<String> tied = new ArrayList<>();
    tied.add("lead(1) over w is not null");
    for (int i = 0; i < plan.latest().size(); i++) {
      order.add("l.dusky_l%d desc nulls last".formatted(i));
      tied.add("lead(l.dusky_l%d) over w is not distinct from l.dusky_l%d".formatted(i, i));
    }
    return """
             select l.*, row_number() over w = 1 as dusky_first,
               %s as dusky_tied
             from looked l
             window w as (partition by %s%s)"""
        .formatted(
            String.join(" and ", tied),
            each(plan.keys(), ", ", key -> "l." + quote(key.name())),
            order.isEmpty() ? "" : " order by " + String.join(", ", order));
  }

  /** Whether one pass leaves a ranked row aside: a reject, or a row that shares its time. */
  String aside() {
    String names = each(plan.keys(), ", ", key -> quote(key.name()));
    return "(r.dusky_unknown is not null or %s\n    or (%s) in (select %s from ranked where dusky_rank > 1 and dusky_peer = 1))"
        .formatted(
            each(plan.keys(), " or ", key -> column("r", key.name()) + " is null"),
            each(plan.keys(), ", ", key -> column("r", key.name())),
            names);
  }

  /** Whether a ranked row goes into the batch. */
  String kept() {
    return "(r.dusky_rank = 1 or r.dusky_peer = 1 or %s)"
        .formatted(each(plan.keys(), " or ", key -> column("r", key.name()) + " is null"));
  }
}
