package dev.dusky.warehouses.merging;

import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.merge.DeleteMarker;
import dev.dusky.core.merge.ExistingPolicy;
import dev.dusky.core.merge.GoneKeys;
import dev.dusky.core.merge.Lookup;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.SnapshotPolicy;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.script.MergePlan;
import dev.dusky.warehouses.script.MergePlan.Column;
import dev.dusky.warehouses.script.MergePlan.Looked;
import dev.dusky.warehouses.script.MergePlan.Ordering;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** Compares a declared merge with the tables that exist, before anything is written. */
final class MergePlanner {

  private final MergeTables tables;
  private final Merge merge;
  private final SourceShape source;
  private final Map<String, TableColumn> types = new LinkedHashMap<>();
  private final List<String> problems = new ArrayList<>();

  MergePlanner(MergeTables tables, Merge merge) {
    this.tables = tables;
    this.merge = merge;
    this.source = new SourceShape(tables, merge);
  }

  /** The expression for a name that may mean a column of the source or of the target. */
  private String either(String name, String where) {
    if (source.has(name)) {
      return "s." + Identifiers.quote(name);
    }
    if (merge.columns().containsKey(name)) {
      return merge.columns().get(name);
    }
    problems.add("%s names %s, which is not a column of the source".formatted(where, name));
    return "null";
  }

  /** The statement that would make the target. */
  String createStatement() {
    return tables.createStatement(merge.into(), newTarget());
  }

  /** The target as it would be made. */
  NewTable newTarget() {
    for (String key : merge.key()) {
      boolean looked = merge.lookups().stream().anyMatch(l -> l.column().equals(key));
      if (!looked && !source.has(key) && !merge.columns().containsKey(key)) {
        throw source
            .failure("key column %s has no column of that name in the source".formatted(key))
            .hint("Correct the key, or give it an expression under columns. Nothing was changed");
      }
    }
    resolveTypes(source.columns().stream().map(TableColumn::name).toList());
    return new TargetTable(merge, tables).definition(types);
  }

  /** The plan, or a failure that says all that does not fit. */
  MergePlan plan() {
    Optional<TableShape> existing = tables.shape(merge.into());
    if (existing.isEmpty()) {
      throw source
          .failure("the target does not exist")
          .hint("Set create: true in the merge, or make it with:\n" + createStatement());
    }
    TableShape target = existing.get();
    managedColumns(target);
    List<Column> columns = dataColumns(target);
    resolveTypes(target.columns().stream().map(TableColumn::name).toList());
    fit(target, columns);
    List<Ordering> latest = new ArrayList<>();
    for (String name : merge.latestBy()) {
      String expression = either(name, "latest-by");
      latest.add(
          new Ordering(
              expression,
              columns.stream()
                  .filter(c -> c.expression().equals(expression))
                  .map(Column::name)
                  .findFirst()));
    }
    Optional<String> at = at(target);
    merge.deleted().ifPresent(d -> either(d.column(), "deleted"));
    if (problems.isEmpty() && merge.deleted().isPresent()) {
      source.ask(gone()); // do its values fit the column?
    }
    merge.newer().ifPresent(n -> either(n, "newer"));
    for (String total : merge.totals()) {
      boolean number =
          target
              .column(total)
              .flatMap(TableColumn::type)
              .filter(t -> t.kind().isNumber())
              .isPresent();
      if (!number || columns.stream().noneMatch(c -> c.name().equals(total))) {
        problems.add(
            "totals names %s, which is not a number that the merge fills".formatted(total));
      }
    }
    unfilled(target, columns);
    if (!problems.isEmpty()) {
      throw source
          .failure(String.join("; ", problems))
          .hint("Change the table or the merge; nothing was changed");
    }
    boolean filled =
        merge.surrogate().flatMap(target::column).map(TableColumn::filled).orElse(false);
    return new MergePlan(
        merge,
        Provenance.COLUMNS.stream().allMatch(source::has),
        target,
        columns,
        latest,
        gone(),
        at,
        merge.lookups().stream().map(lookup -> looked(lookup, target)).toList(),
        filled,
        isUnique(merge.into()),
        spare(target));
  }

  /** Columns of the source that nothing takes, such as one that a feed has promoted since. */
  private List<String> spare(TableShape target) {
    String used = "%s %s %s".formatted(merge, merge.columns().values(), merge.managed());
    List<String> statements = new ArrayList<>();
    for (TableColumn column : source.columns()) {
      String name = column.name();
      boolean taken =
          target.column(name).isPresent()
              || Provenance.COLUMNS.contains(name)
              || name.equals(DriftPolicy.LEFTOVERS)
              || Pattern.compile("(?<!\\w)" + Pattern.quote(name) + "(?!\\w)").matcher(used).find();
      if (!taken) {
        statements.add(JdbcMergeTables.adding(merge.into(), column));
      }
    }
    return statements;
  }

  /** The source. */
  SourceShape source() {
    return source;
  }

  /** The expression by which the newest rows are chosen. */
  String newer() {
    return merge.newer().map(name -> either(name, "newer")).orElse("");
  }

  /** Columns that the merge itself needs in the target; the statement to add them is offered. */
  private void managedColumns(TableShape target) {
    List<String> missing = new ArrayList<>();
    for (String name : merge.managed()) {
      if (target.column(name).isEmpty()) {
        missing.add(
            "alter table %s add column %s %s"
                .formatted(
                    Identifiers.quote(merge.into()),
                    Identifiers.quote(name),
                    tables.typeName(new TargetTable(merge, tables).managedType(name, atType()))));
      }
    }
    if (!missing.isEmpty()) {
      throw source
          .failure("the target lacks columns that the merge fills")
          .hint("Add them with:\n" + String.join(";\n", missing) + ";\nNothing was changed");
    }
  }

  private Optional<SqlType> atType() {
    return merge
        .history()
        .filter(h -> source.has(h.at()) || merge.columns().containsKey(h.at()))
        .flatMap(h -> source.ask(either(h.at(), "history")).get(0).type());
  }

  private List<Column> dataColumns(TableShape target) {
    List<Column> columns = new ArrayList<>();
    for (TableColumn column : target.columns()) {
      String name = column.name();
      boolean json = column.type().map(t -> t.kind() == TypeKind.JSON).orElse(false);
      boolean key = merge.key().contains(name);
      boolean looked = merge.lookups().stream().anyMatch(l -> l.column().equals(name));
      if (looked) {
        columns.add(new Column(name, "", key, json));
      } else if (isGone(name, GoneKeys.MARK)) {
        columns.add(new Column(name, gone(), false, false));
      } else if (isGone(name, GoneKeys.END) && merge.history().isEmpty()) {
        columns.add(
            new Column(
                name,
                "case when %s then %s else cast(null as %s) end"
                    .formatted(gone(), endTime(), column.typeText()),
                false,
                false));
      } else if (!merge.managed().contains(name)
          && (merge.columns().containsKey(name) || source.has(name))) {
        columns.add(new Column(name, source.expression(name), key, json));
      }
    }
    for (String key : merge.key()) {
      if (target.column(key).isEmpty()) {
        problems.add("key column %s does not exist in the target".formatted(key));
      } else if (columns.stream().noneMatch(c -> c.key() && c.name().equals(key))) {
        problems.add("key column %s has no column of that name in the source".formatted(key));
      }
    }
    for (String declared : merge.columns().keySet()) {
      if (target.column(declared).isEmpty()) {
        problems.add("column %s does not exist in the target".formatted(declared));
      }
    }
    merge
        .history()
        .ifPresent(
            h ->
                h.versions().stream()
                    .filter(v -> columns.stream().noneMatch(c -> c.name().equals(v)))
                    .forEach(
                        v ->
                            problems.add(
                                "versions names %s, which the merge does not fill".formatted(v))));
    if (merge.existing() instanceof ExistingPolicy.Overwrite overwrite) {
      overwrite.columns().stream()
          .filter(v -> columns.stream().noneMatch(c -> c.name().equals(v)))
          .forEach(
              v -> problems.add("overwrite names %s, which the merge does not fill".formatted(v)));
    }
    return columns;
  }

  private boolean isGone(String name, GoneKeys how) {
    return merge
            .deleted()
            .filter(d -> d.then() == how && d.into().filter(name::equals).isPresent())
            .isPresent()
        || merge
            .missing()
            .filter(m -> m.then() == how && m.into().filter(name::equals).isPresent())
            .isPresent();
  }

  /** Whether a row of the source says that its key is gone; one that says nothing does not. */
  private String gone() {
    if (merge.deleted().isEmpty()) {
      return "false";
    }
    DeleteMarker deleted = merge.deleted().get();
    String type =
        source.columns().stream()
            .filter(c -> c.name().equals(deleted.column()))
            .map(TableColumn::typeText)
            .findFirst()
            .orElse("varchar");
    String values =
        deleted.values().stream()
            .map(v -> "cast('%s' as %s)".formatted(v.replace("'", "''"), type))
            .collect(Collectors.joining(", "));
    return "coalesce(s.%s in (%s), false)".formatted(Identifiers.quote(deleted.column()), values);
  }

  private String endTime() {
    String name =
        merge
            .history()
            .map(ExistingPolicy.History::at)
            .or(() -> merge.latestBy().stream().findFirst())
            .orElse("");
    return either(name, "latest-by");
  }

  /** Since when a row holds: for a history, or to end what a snapshot lacks. */
  private Optional<String> at(TableShape target) {
    boolean ends =
        merge.deleted().filter(d -> d.then() == GoneKeys.END).isPresent()
            || merge.missing().filter(m -> m.then() == GoneKeys.END).isPresent();
    if (merge.history().isEmpty() && !ends) {
      return Optional.empty();
    }
    String holder =
        merge
            .history()
            .map(ExistingPolicy.History::from)
            .or(() -> merge.deleted().flatMap(DeleteMarker::into))
            .or(() -> merge.missing().flatMap(SnapshotPolicy::into))
            .orElseThrow();
    TableColumn column = target.column(holder).orElseThrow();
    String expression = endTime();
    if (!problems.isEmpty()) {
      return Optional.of(expression);
    }
    TableColumn value = source.ask(expression).get(0);
    boolean fits =
        column.type().isPresent()
            && value.type().isPresent()
            && column.type().get().kind().isTemporal()
            && (column.type().get().kind() == value.type().get().kind()
                || value.type().get().kind() == TypeKind.DATE
                    && column.type().get().kind() == TypeKind.TIMESTAMP);
    if (!fits) {
      problems.add(
          ("column %s is %s, but its times are %s, and the time zone between them is unknown:"
                  + " give both the same type, or convert with an expression under columns")
              .formatted(holder, column.typeText(), value.typeText()));
    }
    return Optional.of("cast(%s as %s)".formatted(expression, column.typeText()));
  }

  private void resolveTypes(List<String> names) {
    Set<String> asked = new LinkedHashSet<>(names);
    asked.retainAll(
        Stream.concat(
                merge.columns().keySet().stream(), source.columns().stream().map(TableColumn::name))
            .toList());
    asked.addAll(merge.columns().keySet());
    List<String> expressions = new ArrayList<>();
    for (String name : asked) {
      Optional<TableColumn> same =
          merge.columns().containsKey(name) ? Optional.empty() : source.column(name);
      same.ifPresent(column -> types.put(name, column));
      if (same.isEmpty()) {
        types.put(name, null); // keeps its place among the others
        expressions.add(source.expression(name) + " as " + Identifiers.quote(name));
      }
    }
    if (!expressions.isEmpty()) {
      source.ask(String.join(", ", expressions)).forEach(c -> types.put(c.name(), c));
    }
  }

  private void fit(TableShape target, List<Column> columns) {
    for (Column column : columns) {
      TableColumn holder = target.column(column.name()).orElseThrow();
      TableColumn value = types.get(column.name());
      if (value == null || column.expression().isEmpty()) {
        continue;
      }
      if (holder.type().isEmpty()
          || value.type().isEmpty()
          || !assignable(holder.type().get(), value.type().get())) {
        problems.add(
            "%scolumn %s is %s in the target, which does not hold every %s of the source"
                .formatted(
                    column.key() ? "key " : "",
                    column.name(),
                    holder.typeText(),
                    value.typeText()));
      }
    }
  }

  /** Whether a value arrives unchanged or the database refuses it; it is never rounded or cut. */
  private static boolean assignable(SqlType holder, SqlType value) {
    return holder.holds(value)
        || holder.kind().isText() && value.kind().isText()
        || holder.kind().isInteger() && value.kind().isInteger()
        || holder.kind() == TypeKind.DECIMAL && value.kind().isInteger();
  }

  private void unfilled(TableShape target, List<Column> columns) {
    for (TableColumn column : target.columns()) {
      boolean taken =
          merge.managed().contains(column.name())
              || columns.stream().anyMatch(c -> c.name().equals(column.name()));
      if (!taken && column.notNull() && !column.filled()) {
        problems.add(
            "column %s of the target is not null, and the merge does not fill it"
                .formatted(column.name()));
      }
    }
  }

  private Looked looked(Lookup lookup, TableShape target) {
    TableColumn column = target.column(lookup.column()).orElseThrow();
    boolean numbers =
        !lookup.keys().containsKey(lookup.take())
            && tables
                .shape(lookup.table())
                .flatMap(shape -> shape.column(lookup.take()))
                .filter(taken -> !taken.filled())
                .flatMap(TableColumn::type)
                .filter(type -> type.kind().isInteger())
                .isPresent();
    return new Looked(lookup.column(), column.notNull(), column.typeText(), numbers);
  }

  private boolean isUnique(TableName table) {
    return tables.rules(table).stream()
        .anyMatch(
            rule -> rule instanceof TableRule.Key key && merge.key().containsAll(key.columns()));
  }
}
