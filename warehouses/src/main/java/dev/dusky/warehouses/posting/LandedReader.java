package dev.dusky.warehouses.posting;

import dev.dusky.core.tables.LandedRows;
import dev.dusky.core.tables.Landing;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.VectorValues;
import dev.dusky.warehouses.connection.Identifiers;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.util.List;
import java.util.UUID;
import java.util.stream.Collectors;

/** Reads rows of a landing table back into the typed columns that loads work with. */
final class LandedReader {

  private LandedReader() {}

  /** Gives all rows, in the order in which they landed. */
  static void read(Connection connection, Landing landing, List<String> columns, LandedRows taker)
      throws SQLException {
    String sql =
        "select dusky_file, dusky_row, %s from %s order by dusky_load, dusky_file, dusky_row"
            .formatted(
                columns.stream().map(Identifiers::quote).collect(Collectors.joining(", ")),
                Identifiers.quote(landing.table().name()));
    List<SqlType> types =
        columns.stream().map(name -> landing.feed().column(name).orElseThrow().type()).toList();
    List<ColumnVector> vectors = types.stream().map(ColumnVector::of).toList();
    try (Statement statement = connection.createStatement()) {
      statement.setFetchSize(5000);
      try (ResultSet row = statement.executeQuery(sql)) {
        while (row.next()) {
          for (int i = 0; i < vectors.size(); i++) {
            vectors.get(i).reset(1);
            VectorValues.set(types.get(i), vectors.get(i), value(types.get(i), row, i + 3));
          }
          taker.take(row.getLong(1), row.getLong(2), vectors, 0);
        }
      }
    }
  }

  private static Object value(SqlType type, ResultSet row, int column) throws SQLException {
    return switch (type.kind()) {
      case DATE -> row.getObject(column, LocalDate.class);
      case TIME -> row.getObject(column, LocalTime.class);
      case TIMESTAMP -> row.getObject(column, LocalDateTime.class);
      case TIMESTAMP_TZ -> row.getObject(column, OffsetDateTime.class);
      case UUID -> row.getObject(column, UUID.class);
      case DECIMAL -> row.getBigDecimal(column);
      case BINARY -> row.getBytes(column);
      case BOOLEAN, SMALLINT, INTEGER, BIGINT, REAL, DOUBLE -> row.getObject(column);
      case CHAR, VARCHAR, TEXT, JSON -> row.getString(column);
    };
  }
}
