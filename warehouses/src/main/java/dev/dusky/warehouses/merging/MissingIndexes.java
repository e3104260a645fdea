package dev.dusky.warehouses.merging;

import dev.dusky.core.merge.Lookup;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableName;
import dev.dusky.warehouses.connection.Dialect;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.script.MergePlan;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.jdbi.v3.core.Handle;

/** The indexes without which a merge reads large tables whole. */
final class MissingIndexes {

  /** Tables smaller than this need no index. */
  private static final long SMALL = 10_000;

  private final Dialect dialect;
  private final Handle handle;
  private final MergePlan plan;

  MissingIndexes(Dialect dialect, Handle handle, MergePlan plan) {
    this.dialect = dialect;
    this.handle = handle;
    this.plan = plan;
  }

  /** The statements for indexes without which large tables are read whole. */
  List<String> statements() {
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
        .createQuery(dialect.indexes())
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
        .createQuery(dialect.aboutRows())
        .bind("schema", table.schema())
        .bind("table", table.table())
        .mapTo(Long.class)
        .findFirst()
        .orElse(0L);
  }

  private static String columns(Collection<String> names) {
    return names.stream().map(Identifiers::quote).collect(Collectors.joining(", "));
  }
}
