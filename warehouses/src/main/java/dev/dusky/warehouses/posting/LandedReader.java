package dev.dusky.warehouses.posting;

import dev.dusky.core.tables.LandedRows;
import dev.dusky.core.tables.Landing;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;
import dev.dusky.warehouses.connection.Identifiers;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
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
            set(types.get(i), vectors.get(i), row, i + 3);
          }
          taker.take(row.getLong(1), row.getLong(2), vectors, 0);
        }
      }
    }
  }

  private static void set(SqlType type, ColumnVector vector, ResultSet row, int column)
      throws SQLException {
    if (row.getObject(column) == null) {
      vector.setNull(0);
      return;
    }
    switch (type.kind()) {
      case BOOLEAN -> ((LongVector) vector).set(0, row.getBoolean(column) ? 1 : 0);
      case SMALLINT, INTEGER, BIGINT -> ((LongVector) vector).set(0, row.getLong(column));
      case DATE ->
          ((LongVector) vector).set(0, row.getObject(column, LocalDate.class).toEpochDay());
      case TIME ->
          ((LongVector) vector).set(0, row.getObject(column, LocalTime.class).toNanoOfDay() / 1000);
      case TIMESTAMP ->
          ((LongVector) vector)
              .set(0, micros(row.getObject(column, LocalDateTime.class).atOffset(ZoneOffset.UTC)));
      case TIMESTAMP_TZ ->
          ((LongVector) vector).set(0, micros(row.getObject(column, OffsetDateTime.class)));
      case REAL, DOUBLE -> ((DoubleVector) vector).set(0, row.getDouble(column));
      case DECIMAL -> {
        BigDecimal value = row.getBigDecimal(column).setScale(((DecimalVector) vector).scale());
        if (value.unscaledValue().bitLength() < 64) {
          ((DecimalVector) vector).set(0, value.unscaledValue().longValue());
        } else {
          ((DecimalVector) vector).setWide(0, value.unscaledValue());
        }
      }
      case UUID -> {
        UUID value = row.getObject(column, UUID.class);
        ((UuidVector) vector)
            .set(0, value.getMostSignificantBits(), value.getLeastSignificantBits());
      }
      case BINARY -> bytes(vector, row.getBytes(column));
      default -> bytes(vector, row.getString(column).getBytes(StandardCharsets.UTF_8));
    }
  }

  private static long micros(OffsetDateTime value) {
    return ChronoUnit.MICROS.between(
        OffsetDateTime.ofInstant(java.time.Instant.EPOCH, ZoneOffset.UTC), value);
  }

  private static void bytes(ColumnVector vector, byte[] value) {
    ((BytesVector) vector).set(0, value, 0, value.length);
  }
}
