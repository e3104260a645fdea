package dev.dusky.lake;

import dev.dusky.core.table.TableName;
import dev.dusky.core.type.SqlType;
import dev.dusky.lake.engine.EngineTypes;
import dev.dusky.warehouses.connection.Identifiers;
import java.util.ArrayList;
import java.util.List;

/** A statement with which people make a table on the engine. */
final class CreateStatement {

  private final TableName table;
  private final List<String> columns = new ArrayList<>();

  CreateStatement(TableName table) {
    this.table = table;
  }

  /** Adds a column. */
  void column(String name, SqlType type, boolean notNull) {
    columns.add(EngineTypes.column(Identifiers.quote(name), type, notNull));
  }

  @Override
  public String toString() {
    return "create table %s (\n  %s\n)"
        .formatted(Identifiers.quote(table), String.join(",\n  ", columns));
  }
}
