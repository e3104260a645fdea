package dev.dusky.warehouses.source;

import dev.dusky.core.source.SourceBatch;
import dev.dusky.core.source.SourceColumn;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;
import java.util.List;

/**
 * Decodes rows of PostgreSQL's binary COPY (the section "Binary Format" of its manual's page on
 * COPY, and the {@code send} functions of its types) into typed columns. Hot.
 */
final class BinaryRows {

  private static final VarHandle SHORT =
      MethodHandles.byteArrayViewVarHandle(short[].class, ByteOrder.BIG_ENDIAN);
  private static final VarHandle INT =
      MethodHandles.byteArrayViewVarHandle(int[].class, ByteOrder.BIG_ENDIAN);
  private static final VarHandle LONG =
      MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.BIG_ENDIAN);

  /** Days and microseconds from 1970-01-01 to 2000-01-01. */
  private static final long EPOCH_DAYS = 10_957;

  private static final long EPOCH_MICROS = EPOCH_DAYS * 86_400_000_000L;

  /** The days from 0001-01-01 to 9999-12-31, and their microseconds. */
  private static final long FIRST_DAY = -719_162;

  private static final long LAST_DAY = 2_932_896;
  private static final long FIRST_MICROS = FIRST_DAY * 86_400_000_000L;
  private static final long END_MICROS = (LAST_DAY + 1) * 86_400_000_000L;

  private final List<SourceColumn> columns;
  private final BinaryNumeric numeric = new BinaryNumeric();

  BinaryRows(List<SourceColumn> columns) {
    this.columns = columns;
  }

  /** The 16-bit number at a position. */
  static int shortAt(byte[] b, int at) {
    return (short) SHORT.get(b, at);
  }

  /**
   * Takes a row.
   *
   * @param at behind the number of its fields
   * @return the position behind it
   * @throws InexactValue if a column does not hold its value
   */
  int take(byte[] b, int at, SourceBatch batch, int row) throws InexactValue {
    int next = at;
    for (int c = 0; c < columns.size(); c++) {
      int length = (int) INT.get(b, next);
      next += 4;
      if (length < 0) {
        batch.column(c).setNull(row);
        continue;
      }
      try {
        value(columns.get(c), batch.column(c), row, b, next, length);
      } catch (ArithmeticException e) {
        throw new InexactValue(c, e.getMessage());
      }
      next += length;
    }
    return next;
  }

  private void value(
      SourceColumn column, ColumnVector into, int row, byte[] b, int at, int length) {
    switch (column.type().kind()) {
      case BOOLEAN -> ((LongVector) into).set(row, b[at]);
      case SMALLINT, INTEGER, BIGINT -> ((LongVector) into).set(row, whole(b, at, length));
      case REAL -> ((DoubleVector) into).set(row, Float.intBitsToFloat((int) INT.get(b, at)));
      case DOUBLE ->
          ((DoubleVector) into).set(row, Double.longBitsToDouble((long) LONG.get(b, at)));
      case DECIMAL -> numeric.take(b, at, (DecimalVector) into, row);
      case DATE -> {
        long day = (int) INT.get(b, at) + EPOCH_DAYS;
        ((LongVector) into).set(row, within(day, day < FIRST_DAY || day > LAST_DAY));
      }
      case TIME -> ((LongVector) into).set(row, (long) LONG.get(b, at));
      case TIMESTAMP, TIMESTAMP_TZ -> {
        long since2000 = (long) LONG.get(b, at);
        long micros = since2000 + EPOCH_MICROS;
        boolean out = micros < FIRST_MICROS || micros >= END_MICROS || since2000 == Long.MIN_VALUE;
        ((LongVector) into).set(row, within(micros, out));
      }
      case UUID -> ((UuidVector) into).set(row, (long) LONG.get(b, at), (long) LONG.get(b, at + 8));
      case JSON -> {
        int skip = column.declared().equals("jsonb") ? 1 : 0; // the version of its form
        ((BytesVector) into).set(row, b, at + skip, at + length);
      }
      default -> ((BytesVector) into).set(row, b, at, at + length);
    }
  }

  private static long whole(byte[] b, int at, int length) {
    return switch (length) {
      case 2 -> (short) SHORT.get(b, at);
      case 4 -> (int) INT.get(b, at);
      default -> (long) LONG.get(b, at);
    };
  }

  private static long within(long value, boolean outside) {
    if (outside) {
      throw new ArithmeticException("a day outside the years 1 to 9999");
    }
    return value;
  }
}
