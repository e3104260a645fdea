package dev.dusky.warehouses.merging;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.merge.Lookup;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.table.TableShape;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.posting.JdbcTables;
import dev.dusky.warehouses.script.MergePlan;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.jdbi.v3.core.Handle;

/** The requirements of a merge on its tables: unique keys, sound histories, useful indexes. */
final class MergeChecks {

  /** Why a landed row cannot be merged. */
  static final List<String> REJECTS =
      List.of("null-key", "null-time", "ambiguous", "unknown-key", "key-not-unique");

  /** Tables smaller than this need no index. */
  private static final long SMALL = 10_000;

  private final Database database;
  private final JdbcTables tables;
  private final Handle handle;
  private final MergePlan plan;

  MergeChecks(Database database, JdbcTables tables, Handle handle, MergePlan plan) {
    this.database = database;
    this.tables = tables;
    this.handle = handle;
    this.plan = plan;
  }

  /** Lookups whose dimension or columns are not there. */
  static void checkLookups(JdbcTables tables, Merge merge) {
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
  boolean twice() {
    String keys = columns(plan.keyNames());
    return !some("select %s from %s group by %s having count(*) > 1 fetch first 1 row only"
            .formatted(keys, Identifiers.quote(plan.merge().into()), keys))
        .isEmpty();
  }

  /** Refuses to look keys up where they could mean two rows. */
  void dimensions() {
    for (Lookup lookup : plan.merge().lookups()) {
      List<String> keys = List.copyOf(lookup.keys().keySet());
      if (lookup.validity().isEmpty() && isUnique(lookup.table(), keys)) {
        continue;
      }
      List<String> twice = some(twiceSql(lookup, keys));
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

  /** The statements for indexes without which large tables are read whole. */
  List<String> missingIndexes() {
    Merge merge = plan.merge();
    List<String> statements = new ArrayList<>();
    List<String> targetKey = new ArrayList<>(merge.key());
    merge.history().ifPresent(h -> targetKey.add(h.from()));
    missing(merge.into(), targetKey, true, statements);
    if (merge.source() instanceof MergeSource.Landing landing && plan.provenance()) {
      missing(landing.table(), Provenance.COLUMNS.subList(0, 2), false, statements);
    }
    for (Lookup lookup : merge.lookups()) {
      missing(lookup.table(), List.copyOf(lookup.keys().keySet()), false, statements);
    }
    return statements.stream().distinct().toList();
  }

  private void missing(
      TableName table, List<String> columns, boolean unique, List<String> statements) {
    Map<String, List<String>> indexes = new LinkedHashMap<>();
    handle
        .createQuery(database.dialect().indexes())
        .bind("schema", table.schema())
        .bind("table", table.table())
        .reduceResultSet(
            indexes,
            (all, row, context) -> {
              all.computeIfAbsent(row.getString(1), n -> new ArrayList<>()).add(row.getString(2));
              return all;
            });
    boolean found = indexes.values().stream().anyMatch(index -> columns.contains(index.get(0)));
    if (!found && rows(table) >= SMALL) {
      statements.add(
          "create %sindex %s on %s (%s)"
              .formatted(
                  unique ? "unique " : "",
                  Identifiers.quote(table.table() + "_" + String.join("_", columns)),
                  Identifiers.quote(table),
                  columns(columns)));
    }
  }

  private long rows(TableName table) {
    return handle
        .createQuery(database.dialect().aboutRows())
        .bind("schema", table.schema())
        .bind("table", table.table())
        .mapTo(Long.class)
        .findFirst()
        .orElse(0L);
  }

  private List<String> some(String sql) {
    return handle.createQuery(sql).mapTo(String.class).list();
  }

  private static String columns(Collection<String> names) {
    return names.stream().map(Identifiers::quote).collect(Collectors.joining(", "));
  }
}
