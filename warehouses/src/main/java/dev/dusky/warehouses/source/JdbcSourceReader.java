package dev.dusky.warehouses.source;

import dev.dusky.core.source.SourceBatch;
import dev.dusky.core.source.SourceColumn;
import dev.dusky.core.source.SourceReader;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;

/** Reads the rows of a query. Hot. */
final class JdbcSourceReader implements SourceReader {

  private final String source;
  private final List<SourceColumn> columns;
  private final SourceValues values;
  private final Connection connection;
  private final PreparedStatement statement;
  private final ResultSet rows;
  private long read;

  JdbcSourceReader(
      String source, List<SourceColumn> columns, Connection connection, PreparedStatement statement)
      throws SQLException {
    this.source = source;
    this.columns = columns;
    this.connection = connection;
    this.statement = statement;
    this.rows = statement.executeQuery();
    this.values = new SourceValues(rows);
  }

  @Override
  public boolean read(SourceBatch batch) {
    batch.reset();
    int count = 0;
    try {
      while (count < SourceBatch.ROWS && rows.next()) {
        for (int c = 0; c < columns.size(); c++) {
          take(batch, c, count);
        }
        count++;
        read++;
      }
    } catch (SQLException e) {
      throw SourceFailures.reading(source, read, e);
    }
    batch.rows(count);
    return count > 0;
  }

  private void take(SourceBatch batch, int column, int row) throws SQLException {
    try {
      values.take(columns.get(column).type(), column + 1, batch.column(column), row);
    } catch (ArithmeticException e) {
      throw SourceFailures.inexact(source, read + 1, columns.get(column), e.getMessage());
    }
  }

  @Override
  public void close() {
    try (connection;
        statement) {
      rows.close();
    } catch (SQLException e) {
      throw SourceFailures.closing(source, e);
    }
  }
}
