package dev.dusky.warehouses.merging;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.table.TableColumn;
import dev.dusky.warehouses.connection.Identifiers;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** What the source of a merge gives: a landing table as it was declared, or a query. */
final class SourceShape {

  private final MergeTables tables;
  private final Merge merge;
  private final String from;
  private final List<TableColumn> columns;

  SourceShape(MergeTables tables, Merge merge) {
    this.tables = tables;
    this.merge = merge;
    this.from = clause();
    this.columns =
        merge.source() instanceof MergeSource.Landing landing
            ? tables.shape(landing.table()).orElseThrow().columns().stream()
                .map(c -> new TableColumn(c.name(), c.type(), c.typeText(), false, false))
                .toList()
            : ask("*");
  }

  private String clause() {
    if (merge.source() instanceof MergeSource.Landing landing) {
      if (tables.shape(landing.table()).isEmpty()) {
        throw failure("its source %s does not exist".formatted(landing.table()))
            .hint("Load its feed first, or correct 'from'");
      }
      return Identifiers.quote(landing.table());
    }
    String sql = ((MergeSource.Query) merge.source()).sql().strip();
    String first = sql.toLowerCase(Locale.ROOT).split("[\\s(]", 2)[0];
    if (!List.of("select", "with", "values", "").contains(first) || sql.contains(";")) {
      throw failure("its query is not one SELECT: it begins with '" + first + "'")
          .hint("The query of a merge must be one SELECT without semicolon");
    }
    return "(\n" + sql + "\n)";
  }

  /** Why the merge cannot run. */
  Failure failure(String why) {
    return Failure.warehouse("Merge %s into %s cannot run".formatted(merge.name(), merge.into()))
        .because(why);
  }

  /** The text that follows {@code from} in a query. */
  String from() {
    return from;
  }

  /** Its columns. */
  List<TableColumn> columns() {
    return columns;
  }

  /** A column. */
  Optional<TableColumn> column(String name) {
    return columns.stream().filter(c -> c.name().equals(name)).findFirst();
  }

  /** Whether it has a column of that name. */
  boolean has(String name) {
    return column(name).isPresent();
  }

  /** The columns that expressions over it give. */
  List<TableColumn> ask(String expressions) {
    String sql = "select " + expressions + " from " + from + " s where 1 = 0";
    try {
      return tables.columns(sql);
    } catch (QueryRefused e) {
      throw failure("the database refuses its query or its expressions: " + e.getMessage())
          .hint("Try it with {}. Nothing was changed", Invocation.of("sql"))
          .from(e.getCause());
    }
  }

  /** The expression for a column of the target: what is declared, or the column of that name. */
  String expression(String name) {
    String declared = merge.columns().get(name);
    return declared != null ? declared : "s." + Identifiers.quote(name);
  }
}
