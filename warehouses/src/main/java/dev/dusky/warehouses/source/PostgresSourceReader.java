package dev.dusky.warehouses.source;

import dev.dusky.core.source.SourceBatch;
import dev.dusky.core.source.SourceColumn;
import dev.dusky.core.source.SourceReader;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import org.postgresql.PGConnection;
import org.postgresql.copy.CopyOut;

/**
 * Reads the rows of a query from PostgreSQL with binary COPY, which needs no text of any value.
 * Each message of the protocol holds whole rows.
 */
final class PostgresSourceReader implements SourceReader {

  /** The bytes before the first row: signature, flags, and an extension without content. */
  private static final int HEADER = 19;

  /** The types whose binary form is their text. */
  private static final Set<String> TEXTS = Set.of("text", "varchar", "bpchar", "char", "name");

  private final String source;
  private final List<SourceColumn> columns;
  private final Connection connection;
  private final CopyOut copy;
  private final BinaryRows rows;
  private byte[] message = new byte[0];
  private int at;
  private long read;
  private boolean begun;
  private boolean ended;

  /**
   * A reader.
   *
   * @param select the query, with all values in it
   */
  PostgresSourceReader(
      String source, List<SourceColumn> columns, Connection connection, String select)
      throws SQLException {
    this.source = source;
    this.columns = columns;
    this.connection = connection;
    this.rows = new BinaryRows(columns);
    this.copy =
        connection
            .unwrap(PGConnection.class)
            .getCopyAPI()
            .copyOut("copy (" + select + ") to stdout (format binary)");
  }

  /** What is selected: each column, as text if its own binary form is unknown here. */
  static String selected(List<SourceColumn> columns) {
    return columns.stream()
        .map(column -> quoted(column) + (asText(column) ? "::text" : ""))
        .collect(Collectors.joining(", "));
  }

  private static String quoted(SourceColumn column) {
    return '"' + column.label().replace("\"", "\"\"") + '"';
  }

  private static boolean asText(SourceColumn column) {
    return column.type().kind().isText()
        && !TEXTS.contains(column.declared().replaceFirst("\\(.*", ""));
  }

  @Override
  public boolean read(SourceBatch batch) {
    batch.reset();
    int count = 0;
    try {
      while (count < SourceBatch.ROWS && more()) {
        at = rows.take(message, at + 2, batch, count);
        count++;
        read++;
      }
    } catch (SQLException e) {
      throw SourceFailures.reading(source, read, e);
    } catch (InexactValue e) {
      throw SourceFailures.inexact(source, read + 1, columns.get(e.column()), e.getMessage());
    }
    batch.rows(count);
    return count > 0;
  }

  /** Whether there is another row, which then begins at {@code at}. */
  private boolean more() throws SQLException {
    while (!ended && at >= message.length) {
      message = copy.readFromCopy();
      at = 0;
      if (message == null) {
        ended = true;
      } else if (!begun) {
        begun = true;
        at = HEADER;
      }
    }
    if (!ended && BinaryRows.shortAt(message, at) < 0) {
      at = message.length; // the trailer
      return more();
    }
    return !ended;
  }

  @Override
  public void close() {
    try (connection) {
      if (copy.isActive()) {
        copy.cancelCopy();
      }
    } catch (SQLException e) {
      throw SourceFailures.closing(source, e);
    }
  }
}
