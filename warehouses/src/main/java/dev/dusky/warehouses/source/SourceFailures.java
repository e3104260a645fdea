package dev.dusky.warehouses.source;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.source.SourceColumn;
import dev.dusky.warehouses.connection.SqlFailures;
import java.sql.SQLException;

/** The failures of reading a source. */
final class SourceFailures {

  private SourceFailures() {}

  /** The database fails while rows are read. */
  static Failure reading(String source, long read, SQLException e) {
    return Failure.depot("Reading source %s failed after %,d rows".formatted(source, read))
        .because(SqlFailures.firstLine(e))
        .hint("Nothing of it was staged, and the high water is as it was; stage it again")
        .from(e);
  }

  /** A value that the type of its column does not hold. */
  static Failure inexact(String source, long row, SourceColumn column, String value) {
    return Failure.depot("Row %,d of source %s cannot be staged exactly".formatted(row, source))
        .because("column %s of type %s has %s".formatted(column.name(), column.declared(), value))
        .hint("Convert or leave out such values in the query, for example with cast to varchar");
  }

  /** The connection cannot be closed. */
  static Failure closing(String source, SQLException e) {
    return Failure.depot("Closing the database of source %s failed".formatted(source))
        .because(SqlFailures.firstLine(e))
        .from(e);
  }
}
