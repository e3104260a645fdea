package dev.dusky.warehouses.merging;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.merge.Lookup;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.table.TableShape;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.script.MergePlan;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.stream.Collectors;

/** The requirements of a merge on its tables: unique keys, sound histories, useful indexes. */
final class MergeChecks {

  /** Why a landed row cannot be merged. */
  static final List<String> REJECTS =
      List.of("null-key", "null-time", "ambiguous", "unknown-key", "key-not-unique");

  private final MergeTables tables;
  private final MergeWork work;
  private final MergePlan plan;

  MergeChecks(MergeTables tables, MergeWork work, MergePlan plan) {
    this.tables = tables;
    this.work = work;
    this.plan = plan;
  }

  /** Lookups whose dimension or columns are not there. */
  static void checkLookups(MergeTables tables, Merge merge) {
    for (Lookup lookup : merge.lookups()) {
      TableShape dimension =
          tables
              .shape(lookup.table())
              .orElseThrow(
                  () ->
                      Failure.warehouse(
                              "Merge %s has a lookup in %s, which does not exist"
                                  .formatted(merge.name(), lookup.table()))
                          .hint("Run the merge that creates it first"));
      List<String> needed = new ArrayList<>(lookup.keys().keySet());
      needed.add(lookup.take());
      lookup
          .validity()
          .ifPresent(
              v -> {
                needed.add(v.from());
                needed.add(v.until());
              });
      for (String name : needed) {
        if (dimension.column(name).isEmpty()) {
          throw Failure.warehouse(
                  "Merge %s has a lookup of %s.%s, which does not exist"
                      .formatted(merge.name(), lookup.table(), name))
              .hint("Correct the lookup of " + lookup.column());
        }
      }
    }
  }

  /** Whether the target has some key more than once. */
  boolean twice() throws SQLException {
    String keys = columns(plan.keyNames());
    return work.number(
            "select count(*) from (select %s from %s group by %s having count(*) > 1 fetch first 1 row only) k"
                .formatted(keys, Identifiers.quote(plan.merge().into()), keys))
        > 0;
  }

  /** Refuses to look keys up where they could mean two rows. */
  void dimensions() throws SQLException {
    for (Lookup lookup : plan.merge().lookups()) {
      List<String> keys = List.copyOf(lookup.keys().keySet());
      if (lookup.validity().isEmpty() && isUnique(lookup.table(), keys)) {
        continue;
      }
      List<String> twice = work.texts(twiceSql(lookup, keys));
      if (!twice.isEmpty()) {
        throw Failure.warehouse(
                "Merge %s cannot look into %s".formatted(plan.merge().name(), lookup.table()))
            .because(
                "some of its keys have two rows at one time, for example "
                    + String.join("; ", twice))
            .hint("{} lists them all. Correct them; nothing was changed", Invocation.of("balance"));
      }
    }
  }

  private static String twiceSql(Lookup lookup, List<String> keys) {
    String table = Identifiers.quote(lookup.table());
    String names = columns(keys);
    String shown = Identifiers.keyText("d", keys);
    if (lookup.validity().isEmpty() || lookup.at().isEmpty()) {
      String open =
          lookup
              .validity()
              .map(v -> " where d." + Identifiers.quote(v.until()) + " is null")
              .orElse("");
      return "select min(%s) from %s d%s group by %s having count(*) > 1 fetch first 3 rows only"
          .formatted(shown, table, open, names);
    }
    return overlaps(table, keys, lookup.validity().get().from(), lookup.validity().get().until())
        + " fetch first 3 rows only";
  }

  /** The keys of a history whose versions overlap, and when. */
  static String overlaps(String table, List<String> keys, String from, String until) {
    String start = Identifiers.quote(from);
    String end = Identifiers.quote(until);
    return """
        select %s || ' at ' || cast(c.%s as varchar) from (
          select d.*, lead(d.%s) over (partition by %s order by d.%s) as dusky_next from %s d
        ) c
        where c.%s < c.%s or c.dusky_next = c.%s
          or c.dusky_next is not null and (c.%s is null or c.%s > c.dusky_next)
        order by 1"""
        .formatted(
            Identifiers.keyText("c", keys),
            start,
            start,
            columns(keys),
            start,
            table,
            end,
            start,
            start,
            end,
            end);
  }

  private boolean isUnique(TableName table, Collection<String> keys) {
    return tables.rules(table).stream()
        .anyMatch(rule -> rule instanceof TableRule.Key key && keys.containsAll(key.columns()));
  }

  private static String columns(Collection<String> names) {
    return names.stream().map(Identifiers::quote).collect(Collectors.joining(", "));
  }
}
