package dev.dusky.core.table;

import java.util.List;

/** A rule of a table by which it refuses rows. */
public sealed interface TableRule {

  /** The constraint's name. */
  String name();

  /** The table's columns that it speaks of. */
  List<String> columns();

  /** A column must have a value. */
  record NotNull(String name, List<String> columns) implements TableRule {}

  /** A condition in the database's SQL must not be false. */
  record Check(String name, List<String> columns, String condition) implements TableRule {}

  /** No two rows have the same values, unless one of them is null. */
  record Key(String name, List<String> columns) implements TableRule {}

  /** The values must be a key of another table, unless one of them is null. */
  record Reference(String name, List<String> columns, TableName table, List<String> targets)
      implements TableRule {}
}
