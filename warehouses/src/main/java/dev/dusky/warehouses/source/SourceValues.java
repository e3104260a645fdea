package dev.dusky.warehouses.source;

import dev.dusky.core.type.SqlType;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.math.RoundingMode;
import java.nio.charset.StandardCharsets;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.UUID;

/** Takes values of a result over into typed columns, exactly or not at all. Hot. */
final class SourceValues {

  private static final int LONG_BITS = 62;

  private final ResultSet rows;

  SourceValues(ResultSet rows) {
    this.rows = rows;
  }

  /**
   * Takes a value of the current row.
   *
   * @param column its number, from 1
   * @throws ArithmeticException if the type does not hold the value; the message says it
   */
  void take(SqlType type, int column, ColumnVector into, int row) throws SQLException {
    switch (type.kind()) {
      case SMALLINT, INTEGER, BIGINT -> number((LongVector) into, row, rows.getLong(column));
      case BOOLEAN -> number((LongVector) into, row, rows.getBoolean(column) ? 1 : 0);
      case REAL -> fraction((DoubleVector) into, row, rows.getFloat(column));
      case DOUBLE -> fraction((DoubleVector) into, row, rows.getDouble(column));
      case DECIMAL -> decimal((DecimalVector) into, row, column);
      case UUID -> uuid((UuidVector) into, row, rows.getObject(column, UUID.class));
      case DATE, TIME, TIMESTAMP, TIMESTAMP_TZ -> time(type, (LongVector) into, row, column);
      case BINARY -> bytes((BytesVector) into, row, rows.getBytes(column));
      default -> {
        String text = rows.getString(column);
        bytes((BytesVector) into, row, text == null ? null : text.getBytes(StandardCharsets.UTF_8));
      }
    }
  }

  private void number(LongVector into, int row, long value) throws SQLException {
    if (rows.wasNull()) {
      into.setNull(row);
    } else {
      into.set(row, value);
    }
  }

  private void fraction(DoubleVector into, int row, double value) throws SQLException {
    if (rows.wasNull()) {
      into.setNull(row);
    } else {
      into.set(row, value);
    }
  }

  private void decimal(DecimalVector into, int row, int column) throws SQLException {
    BigDecimal value;
    try {
      value = rows.getBigDecimal(column);
    } catch (SQLException e) {
      String text = rows.getString(column);
      if (text == null || !Character.isLetter(text.charAt(text.length() - 1))) {
        throw e;
      }
      throw new ArithmeticException(text);
    }
    if (value == null) {
      into.setNull(row);
      return;
    }
    BigInteger unscaled;
    try {
      unscaled = value.setScale(into.scale(), RoundingMode.UNNECESSARY).unscaledValue();
    } catch (ArithmeticException e) {
      throw new ArithmeticException("the value " + value.toPlainString());
    }
    if (unscaled.bitLength() <= LONG_BITS) {
      into.set(row, unscaled.longValue());
    } else {
      into.setWide(row, unscaled);
    }
  }

  private static void uuid(UuidVector into, int row, UUID value) {
    if (value == null) {
      into.setNull(row);
    } else {
      into.set(row, value.getMostSignificantBits(), value.getLeastSignificantBits());
    }
  }

  private static void bytes(BytesVector into, int row, byte[] value) {
    if (value == null) {
      into.setNull(row);
    } else {
      into.set(row, value, 0, value.length);
    }
  }

  private void time(SqlType type, LongVector into, int row, int column) throws SQLException {
    switch (type.kind()) {
      case DATE -> {
        LocalDate value = rows.getObject(column, LocalDate.class);
        if (value == null) {
          into.setNull(row);
        } else {
          into.set(row, within(value).toEpochDay());
        }
      }
      case TIME -> {
        LocalTime value = rows.getObject(column, LocalTime.class);
        if (value == null) {
          into.setNull(row);
        } else {
          into.set(row, micros(value.toNanoOfDay(), value));
        }
      }
      case TIMESTAMP -> timestamp(into, row, rows.getObject(column, LocalDateTime.class));
      default -> {
        OffsetDateTime value = rows.getObject(column, OffsetDateTime.class);
        timestamp(
            into,
            row,
            value == null || value.equals(OffsetDateTime.MAX) || value.equals(OffsetDateTime.MIN)
                ? value == null ? null : value.toLocalDateTime()
                : value.withOffsetSameInstant(ZoneOffset.UTC).toLocalDateTime());
      }
    }
  }

  private static void timestamp(LongVector into, int row, LocalDateTime value) {
    if (value == null) {
      into.setNull(row);
      return;
    }
    within(value.toLocalDate());
    long seconds = value.toEpochSecond(ZoneOffset.UTC);
    into.set(row, seconds * 1_000_000 + micros(value.getNano(), value));
  }

  private static LocalDate within(LocalDate day) {
    if (day.getYear() < 1 || day.getYear() > 9999) {
      throw new ArithmeticException("a day outside the years 1 to 9999");
    }
    return day;
  }

  private static long micros(long nanos, Object value) {
    if (nanos % 1000 != 0) {
      throw new ArithmeticException(value + ", more than six decimals of a second");
    }
    return nanos / 1000;
  }
}
