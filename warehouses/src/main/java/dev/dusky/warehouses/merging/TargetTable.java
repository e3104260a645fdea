package dev.dusky.warehouses.merging;

import dev.dusky.core.merge.DeleteMarker;
import dev.dusky.core.merge.ExistingPolicy.History;
import dev.dusky.core.merge.GoneKeys;
import dev.dusky.core.merge.Lookup;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.SnapshotPolicy;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.warehouses.merging.NewTable.NewColumn;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The target of a merge that does not exist yet. */
final class TargetTable {

  private static final SqlType NUMBER = SqlType.of(TypeKind.BIGINT);

  private final Merge merge;
  private final MergeTables tables;

  TargetTable(Merge merge, MergeTables tables) {
    this.merge = merge;
    this.tables = tables;
  }

  /**
   * Its columns and key.
   *
   * @param types the columns that come from the source, by name
   */
  NewTable definition(Map<String, TableColumn> types) {
    List<NewColumn> columns = new ArrayList<>();
    merge.surrogate().ifPresent(s -> columns.add(column(s, NUMBER, true, true)));
    Optional<SqlType> at = merge.history().map(h -> types.get(h.at())).flatMap(TableColumn::type);
    for (String name : merge.managed()) {
      if (merge.lookups().stream().anyMatch(l -> l.column().equals(name))) {
        columns.add(column(name, NUMBER, false, false));
      }
    }
    for (TableColumn column : types.values()) {
      String name = column.name();
      if (Provenance.COLUMNS.contains(name) || merge.managed().contains(name) || renamed(name)) {
        continue;
      }
      boolean key = merge.key().contains(name);
      String type =
          column
              .type()
              .map(t -> key ? tables.keyTypeName(t) : tables.typeName(t))
              .orElse(column.typeText());
      columns.add(new NewColumn(name, column.type(), type, key, false));
    }
    for (String name : merge.managed()) {
      boolean made =
          merge.surrogate().filter(name::equals).isPresent()
              || merge.lookups().stream().map(Lookup::column).anyMatch(name::equals);
      if (!made) {
        boolean start = merge.history().map(History::from).filter(name::equals).isPresent();
        columns.add(column(name, managedType(name, at), start, false));
      }
    }
    List<String> key = new ArrayList<>(merge.key());
    merge.history().ifPresent(h -> key.add(h.from()));
    return new NewTable(columns, key);
  }

  private NewColumn column(String name, SqlType type, boolean notNull, boolean numbered) {
    return new NewColumn(name, Optional.of(type), tables.typeName(type), notNull, numbered);
  }

  /** Whether a column of the source goes into the target under another name. */
  private boolean renamed(String name) {
    return !merge.columns().containsKey(name)
        && !merge.key().contains(name)
        && merge.columns().values().stream().anyMatch(e -> e.strip().equals(name));
  }

  /** The type of a column that the merge itself fills. */
  SqlType managedType(String name, Optional<SqlType> at) {
    boolean time =
        merge.history().filter(h -> name.equals(h.from()) || name.equals(h.until())).isPresent()
            || ends(name);
    if (time) {
      return at.orElse(SqlType.of(TypeKind.TIMESTAMP));
    }
    boolean number =
        merge.surrogate().filter(name::equals).isPresent()
            || merge.lookups().stream().map(Lookup::column).anyMatch(name::equals);
    return number ? NUMBER : SqlType.of(TypeKind.BOOLEAN);
  }

  private boolean ends(String name) {
    return merge
            .deleted()
            .filter(d -> d.then() == GoneKeys.END)
            .flatMap(DeleteMarker::into)
            .filter(name::equals)
            .isPresent()
        || merge
            .missing()
            .filter(m -> m.then() == GoneKeys.END)
            .flatMap(SnapshotPolicy::into)
            .filter(name::equals)
            .isPresent();
  }
}
