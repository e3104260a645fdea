package dev.dusky.formats;

import dev.dusky.core.source.SourceBatch;
import dev.dusky.core.source.SourceColumn;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.apache.hadoop.conf.Configuration;
import org.apache.parquet.conf.ParquetConfiguration;
import org.apache.parquet.hadoop.api.WriteSupport;
import org.apache.parquet.io.api.Binary;
import org.apache.parquet.io.api.RecordConsumer;
import org.apache.parquet.schema.LogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.TimeUnit;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.PrimitiveType.PrimitiveTypeName;
import org.apache.parquet.schema.Type;
import org.apache.parquet.schema.Types;

/** Writes rows of typed columns with Parquet's types; a row is its number in the batch. Hot. */
final class ParquetRowSupport extends WriteSupport<Integer> {

  /** The most digits that four and eight bytes hold. */
  private static final int INT_DIGITS = 9;

  private static final int LONG_DIGITS = 18;
  private static final int UUID_BYTES = 16;

  private final List<SourceColumn> columns;
  private final MessageType schema;
  private RecordConsumer out;
  private SourceBatch batch;

  ParquetRowSupport(List<SourceColumn> columns) {
    this.columns = columns;
    this.schema =
        new MessageType(
            "rows", columns.stream().map(column -> field(column.name(), column.type())).toList());
  }

  /** The rows that come next. */
  void batch(SourceBatch next) {
    batch = next;
  }

  private static Type field(String name, SqlType type) {
    return switch (type.kind()) {
      case BOOLEAN -> Types.optional(PrimitiveTypeName.BOOLEAN).named(name);
      case SMALLINT ->
          Types.optional(PrimitiveTypeName.INT32)
              .as(LogicalTypeAnnotation.intType(16, true))
              .named(name);
      case INTEGER -> Types.optional(PrimitiveTypeName.INT32).named(name);
      case BIGINT -> Types.optional(PrimitiveTypeName.INT64).named(name);
      case REAL -> Types.optional(PrimitiveTypeName.FLOAT).named(name);
      case DOUBLE -> Types.optional(PrimitiveTypeName.DOUBLE).named(name);
      case DATE ->
          Types.optional(PrimitiveTypeName.INT32).as(LogicalTypeAnnotation.dateType()).named(name);
      case TIME ->
          Types.optional(PrimitiveTypeName.INT64)
              .as(LogicalTypeAnnotation.timeType(false, TimeUnit.MICROS))
              .named(name);
      case TIMESTAMP, TIMESTAMP_TZ ->
          Types.optional(PrimitiveTypeName.INT64)
              .as(
                  LogicalTypeAnnotation.timestampType(
                      type.kind() == dev.dusky.core.type.TypeKind.TIMESTAMP_TZ, TimeUnit.MICROS))
              .named(name);
      case UUID ->
          Types.optional(PrimitiveTypeName.FIXED_LEN_BYTE_ARRAY)
              .length(UUID_BYTES)
              .as(LogicalTypeAnnotation.uuidType())
              .named(name);
      case DECIMAL -> decimal(name, type);
      case JSON ->
          Types.optional(PrimitiveTypeName.BINARY).as(LogicalTypeAnnotation.jsonType()).named(name);
      case BINARY -> Types.optional(PrimitiveTypeName.BINARY).named(name);
      case CHAR, VARCHAR, TEXT ->
          Types.optional(PrimitiveTypeName.BINARY)
              .as(LogicalTypeAnnotation.stringType())
              .named(name);
    };
  }

  private static Type decimal(String name, SqlType type) {
    LogicalTypeAnnotation logical =
        LogicalTypeAnnotation.decimalType(type.scale(), type.precision());
    if (type.precision() <= INT_DIGITS) {
      return Types.optional(PrimitiveTypeName.INT32).as(logical).named(name);
    }
    if (type.precision() <= LONG_DIGITS) {
      return Types.optional(PrimitiveTypeName.INT64).as(logical).named(name);
    }
    return Types.optional(PrimitiveTypeName.FIXED_LEN_BYTE_ARRAY)
        .length(bytes(type))
        .as(logical)
        .named(name);
  }

  /** The number of bytes that any number of that precision fits into. */
  private static int bytes(SqlType type) {
    return BigInteger.TEN.pow(type.precision()).bitLength() / 8 + 1;
  }

  @Override
  public WriteContext init(Configuration configuration) {
    return new WriteContext(schema, Map.of());
  }

  @Override
  public WriteContext init(ParquetConfiguration configuration) {
    return new WriteContext(schema, Map.of());
  }

  @Override
  public void prepareForWrite(RecordConsumer consumer) {
    out = consumer;
  }

  @Override
  public void write(Integer row) {
    out.startMessage();
    for (int c = 0; c < columns.size(); c++) {
      SourceColumn column = columns.get(c);
      ColumnVector vector = batch.column(c);
      if (!vector.isNull(row)) {
        out.startField(column.name(), c);
        value(column.type(), vector, row);
        out.endField(column.name(), c);
      }
    }
    out.endMessage();
  }

  private void value(SqlType type, ColumnVector vector, int row) {
    switch (type.kind()) {
      case BOOLEAN -> out.addBoolean(((LongVector) vector).get(row) != 0);
      case SMALLINT, INTEGER, DATE -> out.addInteger((int) ((LongVector) vector).get(row));
      case BIGINT, TIME, TIMESTAMP, TIMESTAMP_TZ -> out.addLong(((LongVector) vector).get(row));
      case REAL -> out.addFloat((float) ((DoubleVector) vector).get(row));
      case DOUBLE -> out.addDouble(((DoubleVector) vector).get(row));
      case DECIMAL -> decimal(type, (DecimalVector) vector, row);
      case UUID -> {
        UuidVector uuids = (UuidVector) vector;
        ByteBuffer bytes = ByteBuffer.allocate(UUID_BYTES);
        bytes.putLong(uuids.high(row)).putLong(uuids.low(row));
        out.addBinary(Binary.fromConstantByteArray(bytes.array()));
      }
      default -> {
        BytesVector bytes = (BytesVector) vector;
        out.addBinary(
            Binary.fromReusedByteArray(bytes.heap(), bytes.start(row), bytes.length(row)));
      }
    }
  }

  private void decimal(SqlType type, DecimalVector vector, int row) {
    if (type.precision() <= INT_DIGITS) {
      out.addInteger((int) vector.unscaled(row));
    } else if (type.precision() <= LONG_DIGITS) {
      out.addLong(vector.unscaled(row));
    } else {
      byte[] number = vector.get(row).unscaledValue().toByteArray();
      byte[] fixed = new byte[bytes(type)];
      Arrays.fill(fixed, (byte) (number[0] < 0 ? -1 : 0));
      System.arraycopy(number, 0, fixed, fixed.length - number.length, number.length);
      out.addBinary(Binary.fromConstantByteArray(fixed));
    }
  }
}
