package dev.dusky.core.table;

import java.util.Optional;

/**
 * The name of a table in its schema. Both parts are plain SQL identifiers in lower case.
 *
 * @param schema the schema
 * @param table the table
 */
public record TableName(String schema, String table) {

  private static final String PART = "[a-z_][a-z0-9_]{0,62}";

  /**
   * Reads {@code schema.table} or {@code table} (in schema {@code public}); empty if it is none.
   */
  public static Optional<TableName> parse(String text) {
    String[] parts = text.strip().toLowerCase(java.util.Locale.ROOT).split("\\.", -1);
    if (parts.length > 2 || !parts[0].matches(PART) || !parts[parts.length - 1].matches(PART)) {
      return Optional.empty();
    }
    return Optional.of(
        parts.length == 1 ? new TableName("public", parts[0]) : new TableName(parts[0], parts[1]));
  }

  /** The full name. */
  @Override
  public String toString() {
    return schema + "." + table;
  }
}
