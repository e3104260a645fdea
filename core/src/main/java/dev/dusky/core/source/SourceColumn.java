package dev.dusky.core.source;

import dev.dusky.core.type.SqlType;

/**
 * A column of a query.
 *
 * @param name its name; in lower case where the database writes plain names in upper case
 * @param label its name as the database has it
 * @param type its type; text where no type holds its values exactly
 * @param declared the database's own name of its type
 */
public record SourceColumn(String name, String label, SqlType type, String declared) {

  /** Name and type as the database has them. */
  @Override
  public String toString() {
    return name + " " + declared;
  }
}
