package dev.dusky.warehouses.connection;

import dev.dusky.core.table.TableName;
import java.util.List;
import java.util.stream.Collectors;

/** Quotes names for SQL. */
public final class Identifiers {

  private Identifiers() {}

  /** The name in double quotes. */
  public static String quote(String name) {
    return '"' + name.replace("\"", "\"\"") + '"';
  }

  /** The table's full name, quoted. */
  public static String quote(TableName table) {
    return quote(table.schema()) + "." + quote(table.table());
  }

  /** A text as SQL. */
  public static String text(String value) {
    return "'" + value.replace("'", "''") + "'";
  }

  /** Texts as SQL, with commas. */
  public static String texts(List<String> values) {
    return values.stream().map(Identifiers::text).collect(Collectors.joining(", "));
  }

  /** A key as people read it, as SQL text. */
  public static String keyText(String alias, List<String> keys) {
    return keys.stream()
        .map(
            k ->
                "'%s ' || coalesce(cast(%s.%s as varchar), 'null')"
                    .formatted(k.replace("'", "''"), alias, quote(k)))
        .collect(Collectors.joining(" || ', ' || "));
  }

  /** Names of columns behind an alias, with commas. */
  public static String list(String alias, List<String> names) {
    return names.stream().map(n -> alias + "." + quote(n)).collect(Collectors.joining(", "));
  }
}
