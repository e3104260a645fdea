package dev.dusky.formats;

import dev.dusky.core.record.RecordFault;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import org.apache.parquet.column.ColumnReader;
import org.apache.parquet.io.api.Binary;
import org.apache.parquet.schema.LogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.DecimalLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.IntLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.TimeLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.TimeUnit;
import org.apache.parquet.schema.LogicalTypeAnnotation.TimestampLogicalTypeAnnotation;
import org.apache.parquet.schema.PrimitiveType;
import org.apache.parquet.schema.PrimitiveType.PrimitiveTypeName;
import org.apache.parquet.schema.Type;

/** How Parquet's types become SQL types, and its values those of our vectors. Hot. */
final class ParquetTypes {

  private static final int JULIAN_EPOCH = 2_440_588;

  private ParquetTypes() {}

  /** The SQL type of a field; structures are JSON. */
  static SqlType of(Type field) {
    if (!field.isPrimitive() || field.isRepetition(Type.Repetition.REPEATED)) {
      return SqlType.of(TypeKind.JSON);
    }
    PrimitiveType type = field.asPrimitiveType();
    LogicalTypeAnnotation logical = type.getLogicalTypeAnnotation();
    if (logical instanceof DecimalLogicalTypeAnnotation decimal) {
      return SqlType.decimal(decimal.getPrecision(), decimal.getScale());
    }
    return switch (type.getPrimitiveTypeName()) {
      case BOOLEAN -> SqlType.of(TypeKind.BOOLEAN);
      case FLOAT -> SqlType.of(TypeKind.REAL);
      case DOUBLE -> SqlType.of(TypeKind.DOUBLE);
      case INT96 -> SqlType.of(TypeKind.TIMESTAMP);
      case INT32, INT64 -> integer(type, logical);
      case BINARY, FIXED_LEN_BYTE_ARRAY -> bytes(logical);
    };
  }

  private static SqlType integer(PrimitiveType type, LogicalTypeAnnotation logical) {
    boolean wide = type.getPrimitiveTypeName() == PrimitiveTypeName.INT64;
    if (logical instanceof TimestampLogicalTypeAnnotation timestamp) {
      return SqlType.of(timestamp.isAdjustedToUTC() ? TypeKind.TIMESTAMP_TZ : TypeKind.TIMESTAMP);
    }
    if (logical instanceof TimeLogicalTypeAnnotation) {
      return SqlType.of(TypeKind.TIME);
    }
    if (logical instanceof LogicalTypeAnnotation.DateLogicalTypeAnnotation) {
      return SqlType.of(TypeKind.DATE);
    }
    if (logical instanceof IntLogicalTypeAnnotation number) {
      if (number.getBitWidth() < 16 || number.getBitWidth() == 16 && number.isSigned()) {
        return SqlType.of(TypeKind.SMALLINT);
      }
      if (!number.isSigned() && number.getBitWidth() > 16) {
        return number.getBitWidth() == 32 ? SqlType.of(TypeKind.BIGINT) : SqlType.decimal(20, 0);
      }
    }
    return SqlType.of(wide ? TypeKind.BIGINT : TypeKind.INTEGER);
  }

  private static SqlType bytes(LogicalTypeAnnotation logical) {
    if (logical instanceof LogicalTypeAnnotation.StringLogicalTypeAnnotation
        || logical instanceof LogicalTypeAnnotation.EnumLogicalTypeAnnotation) {
      return SqlType.of(TypeKind.TEXT);
    }
    if (logical instanceof LogicalTypeAnnotation.JsonLogicalTypeAnnotation) {
      return SqlType.of(TypeKind.JSON);
    }
    if (logical instanceof LogicalTypeAnnotation.UUIDLogicalTypeAnnotation) {
      return SqlType.of(TypeKind.UUID);
    }
    return logical instanceof LogicalTypeAnnotation.Float16LogicalTypeAnnotation
        ? SqlType.of(TypeKind.REAL)
        : SqlType.of(TypeKind.BINARY);
  }

  /** How much larger than a microsecond the unit of a time is, or below 0 for nanoseconds. */
  private static long micros(PrimitiveType type) {
    TimeUnit unit =
        type.getLogicalTypeAnnotation() instanceof TimestampLogicalTypeAnnotation timestamp
            ? timestamp.getUnit()
            : ((TimeLogicalTypeAnnotation) type.getLogicalTypeAnnotation()).getUnit();
    return switch (unit) {
      case MILLIS -> 1000;
      case MICROS -> 1;
      case NANOS -> -1000;
    };
  }

  /** Reads the next values of a column into its vector. */
  static void read(ColumnReader from, PrimitiveType type, TypedRows rows, int column, SqlType sql) {
    ColumnVector vector = rows.vector(column);
    int most = from.getDescriptor().getMaxDefinitionLevel();
    int count = rows.rows();
    PrimitiveTypeName name = type.getPrimitiveTypeName();
    switch (sql.kind()) {
      case TIME, TIMESTAMP, TIMESTAMP_TZ -> {
        if (name == PrimitiveTypeName.INT96) {
          julian(from, most, rows, (LongVector) vector);
        } else {
          scaled(from, most, rows, (LongVector) vector, micros(type), name);
        }
      }
      case BOOLEAN, SMALLINT, INTEGER, BIGINT, DATE -> {
        boolean unsigned = sql.kind() == TypeKind.BIGINT && name == PrimitiveTypeName.INT32;
        longs(from, most, count, (LongVector) vector, name, unsigned);
      }
      case REAL, DOUBLE -> doubles(from, most, count, (DoubleVector) vector, name);
      case DECIMAL -> decimals(from, most, count, (DecimalVector) vector, name);
      case UUID -> {
        UuidVector uuids = (UuidVector) vector;
        for (int r = 0; r < count; r++, from.consume()) {
          if (present(from, most)) {
            ByteBuffer bytes = from.getBinary().toByteBuffer();
            uuids.set(r, bytes.getLong(bytes.position()), bytes.getLong(bytes.position() + 8));
          } else {
            uuids.setNull(r);
          }
        }
      }
      default -> {
        BytesVector bytes = (BytesVector) vector;
        ValueSink sink = new ValueSink(bytes);
        for (int r = 0; r < count; r++, from.consume()) {
          if (present(from, most)) {
            sink.take(r, from.getBinary());
          } else {
            bytes.setNull(r);
          }
        }
      }
    }
  }

  /** Whether the current value is not null; a required column needs no look at it. */
  private static boolean present(ColumnReader from, int most) {
    return most == 0 || from.getCurrentDefinitionLevel() == most;
  }

  /** Takes the bytes of one value in place, without a copy. */
  private static final class ValueSink extends OutputStream {
    private final BytesVector vector;
    private int row;

    ValueSink(BytesVector vector) {
      this.vector = vector;
    }

    void take(int newRow, Binary value) {
      row = newRow;
      try {
        value.writeTo(this);
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }

    @Override
    public void write(byte[] bytes, int offset, int length) {
      vector.set(row, bytes, offset, offset + length);
    }

    @Override
    public void write(int value) {
      vector.set(row, new byte[] {(byte) value}, 0, 1);
    }
  }

  private static void longs(
      ColumnReader from,
      int most,
      int count,
      LongVector vector,
      PrimitiveTypeName name,
      boolean unsigned) {
    if (name == PrimitiveTypeName.INT64) {
      for (int r = 0; r < count; r++, from.consume()) {
        if (present(from, most)) {
          vector.set(r, from.getLong());
        } else {
          vector.setNull(r);
        }
      }
      return;
    }
    boolean truth = name == PrimitiveTypeName.BOOLEAN;
    for (int r = 0; r < count; r++, from.consume()) {
      if (present(from, most)) {
        long value = truth ? from.getBoolean() ? 1 : 0 : from.getInteger();
        vector.set(r, unsigned ? value & 0xffff_ffffL : value);
      } else {
        vector.setNull(r);
      }
    }
  }

  private static void scaled(
      ColumnReader from,
      int most,
      TypedRows rows,
      LongVector vector,
      long micros,
      PrimitiveTypeName name) {
    boolean wide = name == PrimitiveTypeName.INT64;
    for (int r = 0; r < rows.rows(); r++, from.consume()) {
      if (!present(from, most)) {
        vector.setNull(r);
        continue;
      }
      long value = wide ? from.getLong() : from.getInteger();
      if (micros > 0) {
        vector.set(r, value * micros);
      } else if (value % 1000 == 0) {
        vector.set(r, value / 1000);
      } else {
        vector.setNull(r);
        rows.fault(r, tooFine(value % 1_000_000_000));
      }
    }
  }

  static RecordFault tooFine(long nanos) {
    return new RecordFault(
        RejectCode.BAD_TIMESTAMP,
        0,
        "a time with %d nanoseconds has more than six decimals of a second".formatted(nanos));
  }

  private static void julian(ColumnReader from, int most, TypedRows rows, LongVector vector) {
    for (int r = 0; r < rows.rows(); r++, from.consume()) {
      if (!present(from, most)) {
        vector.setNull(r);
        continue;
      }
      ByteBuffer bytes = from.getBinary().toByteBuffer().order(ByteOrder.LITTLE_ENDIAN);
      long nanos = bytes.getLong(bytes.position());
      long day = bytes.getInt(bytes.position() + 8) - (long) JULIAN_EPOCH;
      vector.set(r, day * 86_400_000_000L + Math.floorDiv(nanos, 1000L));
      if (nanos % 1000 != 0) {
        rows.fault(r, tooFine(nanos % 1_000_000_000));
      }
    }
  }

  private static void doubles(
      ColumnReader from, int most, int count, DoubleVector vector, PrimitiveTypeName name) {
    for (int r = 0; r < count; r++, from.consume()) {
      if (!present(from, most)) {
        vector.setNull(r);
      } else if (name == PrimitiveTypeName.DOUBLE) {
        vector.set(r, from.getDouble());
      } else if (name == PrimitiveTypeName.FLOAT) {
        vector.set(r, from.getFloat());
      } else {
        vector.set(r, half(from.getBinary().get2BytesLittleEndian()));
      }
    }
  }

  /** IEEE 754 binary16. */
  private static float half(short bits) {
    int exponent = bits >> 10 & 0x1f;
    int mantissa = bits & 0x3ff;
    float value =
        exponent == 31
            ? mantissa == 0 ? Float.POSITIVE_INFINITY : Float.NaN
            : exponent == 0
                ? mantissa * 0x1p-24f
                : (float) Math.scalb((double) (0x400 | mantissa), exponent - 25);
    return bits < 0 ? -value : value;
  }

  private static void decimals(
      ColumnReader from, int most, int count, DecimalVector vector, PrimitiveTypeName name) {
    for (int r = 0; r < count; r++, from.consume()) {
      if (!present(from, most)) {
        vector.setNull(r);
      } else if (name == PrimitiveTypeName.INT32) {
        vector.set(r, from.getInteger());
      } else if (name == PrimitiveTypeName.INT64) {
        vector.set(r, from.getLong());
      } else {
        byte[] bytes = from.getBinary().getBytesUnsafe();
        if (bytes.length <= 7) {
          vector.set(r, small(bytes));
        } else {
          BigInteger unscaled = new BigInteger(bytes);
          if (unscaled.bitLength() > 59) {
            vector.setWide(r, unscaled);
          } else {
            vector.set(r, unscaled.longValue());
          }
        }
      }
    }
  }

  private static long small(byte[] bytes) {
    long value = bytes.length > 0 && bytes[0] < 0 ? -1 : 0;
    for (byte b : bytes) {
      value = value << 8 | b & 0xff;
    }
    return value;
  }
}
