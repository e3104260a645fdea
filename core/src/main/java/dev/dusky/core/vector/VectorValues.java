package dev.dusky.core.vector;

import dev.dusky.core.type.SqlType;
import java.math.BigDecimal;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.UUID;

/** Values of Java's own classes into typed columns of one row, as tables give them back. */
public final class VectorValues {

  private VectorValues() {}

  /**
   * Sets the only row of a column.
   *
   * @param value null, or of the class that JDBC and table formats use for the type: numbers,
   *     {@code java.time} classes, {@link UUID}, {@link String}, bytes or a buffer of bytes
   */
  public static void set(SqlType type, ColumnVector vector, Object value) {
    vector.reset(1);
    if (value == null) {
      vector.setNull(0);
      return;
    }
    switch (type.kind()) {
      case BOOLEAN -> whole(vector, (boolean) value ? 1 : 0);
      case SMALLINT, INTEGER, BIGINT -> whole(vector, ((Number) value).longValue());
      case DATE -> whole(vector, ((LocalDate) value).toEpochDay());
      case TIME -> whole(vector, ((LocalTime) value).toNanoOfDay() / 1000);
      case TIMESTAMP -> whole(vector, micros(((LocalDateTime) value).atOffset(ZoneOffset.UTC)));
      case TIMESTAMP_TZ -> whole(vector, micros((OffsetDateTime) value));
      case REAL, DOUBLE -> ((DoubleVector) vector).set(0, ((Number) value).doubleValue());
      case DECIMAL -> decimal((DecimalVector) vector, (BigDecimal) value);
      case UUID ->
          ((UuidVector) vector)
              .set(
                  0,
                  ((UUID) value).getMostSignificantBits(),
                  ((UUID) value).getLeastSignificantBits());
      case BINARY -> bytes(vector, value instanceof ByteBuffer b ? copy(b) : (byte[]) value);
      default -> bytes(vector, value.toString().getBytes(StandardCharsets.UTF_8));
    }
  }

  private static void whole(ColumnVector vector, long value) {
    ((LongVector) vector).set(0, value);
  }

  private static void decimal(DecimalVector vector, BigDecimal value) {
    BigDecimal scaled = value.setScale(vector.scale());
    if (scaled.unscaledValue().bitLength() < 64) {
      vector.set(0, scaled.unscaledValue().longValue());
    } else {
      vector.setWide(0, scaled.unscaledValue());
    }
  }

  private static long micros(OffsetDateTime value) {
    return ChronoUnit.MICROS.between(
        OffsetDateTime.ofInstant(Instant.EPOCH, ZoneOffset.UTC), value);
  }

  private static byte[] copy(ByteBuffer buffer) {
    byte[] bytes = new byte[buffer.remaining()];
    buffer.duplicate().get(bytes);
    return bytes;
  }

  private static void bytes(ColumnVector vector, byte[] value) {
    ((BytesVector) vector).set(0, value, 0, value.length);
  }
}
