package dev.dusky.core.table;

import java.util.List;
import java.util.Optional;

/**
 * A table's columns.
 *
 * @param name the table
 * @param columns its columns in order
 */
public record TableShape(TableName name, List<TableColumn> columns) {

  public TableShape {
    columns = List.copyOf(columns);
  }

  /** The column with this name. */
  public Optional<TableColumn> column(String columnName) {
    return columns.stream().filter(c -> c.name().equals(columnName)).findFirst();
  }

  /** Whether the table has all three provenance columns. */
  public boolean hasProvenance() {
    return Provenance.COLUMNS.stream().allMatch(c -> column(c).isPresent());
  }
}
