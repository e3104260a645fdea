package dev.dusky.warehouses;

import dev.dusky.core.table.TableName;

/** Quotes names for SQL. */
final class Identifiers {

  private Identifiers() {}

  /** The name in double quotes. */
  static String quote(String name) {
    return '"' + name.replace("\"", "\"\"") + '"';
  }

  /** The table's full name, quoted. */
  static String quote(TableName table) {
    return quote(table.schema()) + "." + quote(table.table());
  }
}
