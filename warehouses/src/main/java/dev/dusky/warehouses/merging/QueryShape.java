package dev.dusky.warehouses.merging;

import dev.dusky.core.table.TableColumn;
import dev.dusky.core.type.SqlType;
import dev.dusky.warehouses.connection.Dialect;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** The columns that a query would give. */
final class QueryShape {

  private QueryShape() {}

  /** Asks the database without reading a row. The query must give no row. */
  static List<TableColumn> read(Connection connection, Dialect dialect, String emptyQuery)
      throws SQLException {
    List<TableColumn> columns = new ArrayList<>();
    try (Statement statement = connection.createStatement();
        ResultSet result = statement.executeQuery(emptyQuery)) {
      ResultSetMetaData meta = result.getMetaData();
      for (int i = 1; i <= meta.getColumnCount(); i++) {
        String name = meta.getColumnTypeName(i);
        int precision = meta.getPrecision(i);
        int length = precision == Integer.MAX_VALUE ? 0 : precision;
        Optional<SqlType> type = dialect.typeOf(name, length, precision, meta.getScale(i));
        columns.add(
            new TableColumn(
                meta.getColumnLabel(i),
                type,
                type.map(SqlType::toString).orElse(name),
                false,
                false));
      }
    }
    return columns;
  }
}
