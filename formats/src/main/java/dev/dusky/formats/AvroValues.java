package dev.dusky.formats;

import dev.dusky.core.json.JsonStrings;
import dev.dusky.core.type.IsoForm;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.StringJoiner;
import java.util.UUID;
import org.apache.avro.LogicalType;
import org.apache.avro.LogicalTypes;
import org.apache.avro.Schema;
import org.apache.avro.generic.GenericData;
import org.apache.avro.generic.GenericFixed;
import org.apache.avro.generic.GenericRecord;
import org.apache.avro.util.Utf8;

/** How Avro's types become SQL types, and its values those of our vectors. */
final class AvroValues {

  private AvroValues() {}

  /** The other branch of a union of null and one more; any other schema as it is. */
  static Schema notNull(Schema schema) {
    if (schema.getType() != Schema.Type.UNION) {
      return schema;
    }
    List<Schema> others =
        schema.getTypes().stream().filter(s -> s.getType() != Schema.Type.NULL).toList();
    return others.size() == 1 ? others.get(0) : schema;
  }

  private static String logical(Schema schema) {
    LogicalType type = schema.getLogicalType();
    return type == null ? "" : type.getName();
  }

  /** The SQL type of a schema; structures and unions are JSON. */
  static SqlType type(Schema schema) {
    if (schema.getLogicalType() instanceof LogicalTypes.Decimal decimal) {
      return SqlType.decimal(decimal.getPrecision(), decimal.getScale());
    }
    String logical = logical(schema);
    return switch (schema.getType()) {
      case BOOLEAN -> SqlType.of(TypeKind.BOOLEAN);
      case INT ->
          SqlType.of(
              logical.equals("date")
                  ? TypeKind.DATE
                  : logical.equals("time-millis") ? TypeKind.TIME : TypeKind.INTEGER);
      case LONG ->
          SqlType.of(
              logical.startsWith("timestamp-")
                  ? TypeKind.TIMESTAMP_TZ
                  : logical.startsWith("local-timestamp-")
                      ? TypeKind.TIMESTAMP
                      : logical.equals("time-micros") ? TypeKind.TIME : TypeKind.BIGINT);
      case FLOAT -> SqlType.of(TypeKind.REAL);
      case DOUBLE -> SqlType.of(TypeKind.DOUBLE);
      case STRING -> SqlType.of(logical.equals("uuid") ? TypeKind.UUID : TypeKind.TEXT);
      case ENUM -> SqlType.of(TypeKind.TEXT);
      case BYTES, FIXED -> SqlType.of(logical.equals("uuid") ? TypeKind.UUID : TypeKind.BINARY);
      case RECORD, ARRAY, MAP, UNION, NULL -> SqlType.of(TypeKind.JSON);
    };
  }

  private static byte[] bytes(Object value) {
    if (value instanceof GenericFixed fixed) {
      return fixed.bytes();
    }
    ByteBuffer buffer = ((ByteBuffer) value).duplicate();
    byte[] result = new byte[buffer.remaining()];
    buffer.get(result);
    return result;
  }

  /** Puts a value into a column of a row. */
  static void put(Object value, Schema schema, SqlType type, TypedRows rows, int column, int row) {
    ColumnVector vector = rows.vector(column);
    if (value == null) {
      vector.setNull(row);
      return;
    }
    switch (type.kind()) {
      case BOOLEAN -> ((LongVector) vector).set(row, (Boolean) value ? 1 : 0);
      case INTEGER, BIGINT, DATE -> ((LongVector) vector).set(row, ((Number) value).longValue());
      case TIME, TIMESTAMP, TIMESTAMP_TZ -> {
        long number = ((Number) value).longValue();
        ((LongVector) vector).set(row, micros(number, logical(schema)));
        if (logical(schema).endsWith("nanos") && number % 1000 != 0) {
          rows.fault(row, ParquetTypes.tooFine(Math.floorMod(number, 1_000_000_000L)));
        }
      }
      case REAL, DOUBLE -> ((DoubleVector) vector).set(row, ((Number) value).doubleValue());
      case DECIMAL -> {
        BigInteger unscaled = new BigInteger(bytes(value));
        if (unscaled.bitLength() > 59) {
          ((DecimalVector) vector).setWide(row, unscaled);
        } else {
          ((DecimalVector) vector).set(row, unscaled.longValue());
        }
      }
      case UUID -> {
        UUID uuid = uuid(value);
        ((UuidVector) vector)
            .set(row, uuid.getMostSignificantBits(), uuid.getLeastSignificantBits());
      }
      case BINARY -> set((BytesVector) vector, row, bytes(value));
      case JSON ->
          set((BytesVector) vector, row, json(value, schema).getBytes(StandardCharsets.UTF_8));
      default -> {
        if (value instanceof Utf8 text) {
          ((BytesVector) vector).set(row, text.getBytes(), 0, text.getByteLength());
        } else {
          set((BytesVector) vector, row, value.toString().getBytes(StandardCharsets.UTF_8));
        }
      }
    }
  }

  private static void set(BytesVector vector, int row, byte[] bytes) {
    vector.set(row, bytes, 0, bytes.length);
  }

  private static UUID uuid(Object value) {
    if (value instanceof CharSequence text) {
      return UUID.fromString(text.toString());
    }
    ByteBuffer halves = ByteBuffer.wrap(bytes(value));
    return new UUID(halves.getLong(), halves.getLong());
  }

  private static long micros(long value, String logical) {
    return logical.endsWith("millis")
        ? value * 1000
        : logical.endsWith("nanos") ? Math.floorDiv(value, 1000L) : value;
  }

  /** A value as JSON. */
  static String json(Object value, Schema declared) {
    if (value == null) {
      return "null";
    }
    Schema schema = notNull(declared);
    if (schema.getType() == Schema.Type.UNION) {
      schema = schema.getTypes().get(GenericData.get().resolveUnion(schema, value));
    }
    if (schema.getLogicalType() instanceof LogicalTypes.Decimal decimal) {
      return new BigDecimal(new BigInteger(bytes(value)), decimal.getScale()).toPlainString();
    }
    String logical = logical(schema);
    Schema element = schema;
    return switch (schema.getType()) {
      case NULL -> "null";
      case BOOLEAN -> value.toString();
      case INT, LONG -> integer(((Number) value).longValue(), logical);
      case FLOAT, DOUBLE -> {
        double number = ((Number) value).doubleValue();
        boolean finite = !Double.isNaN(number) && !Double.isInfinite(number);
        yield finite ? value.toString() : JsonStrings.quoted(value.toString());
      }
      case BYTES, FIXED ->
          JsonStrings.quoted(
              logical.equals("uuid")
                  ? uuid(value).toString()
                  : HexFormat.of().formatHex(bytes(value)));
      case STRING, ENUM -> JsonStrings.quoted(value.toString());
      case ARRAY -> {
        StringJoiner list = new StringJoiner(",", "[", "]");
        for (Object item : (Iterable<?>) value) {
          list.add(json(item, element.getElementType()));
        }
        yield list.toString();
      }
      case MAP -> {
        StringJoiner object = new StringJoiner(",", "{", "}");
        ((Map<?, ?>) value)
            .forEach(
                (key, item) ->
                    object.add(
                        JsonStrings.quoted(key.toString())
                            + ":"
                            + json(item, element.getValueType())));
        yield object.toString();
      }
      case RECORD -> {
        StringJoiner object = new StringJoiner(",", "{", "}");
        for (Schema.Field field : schema.getFields()) {
          object.add(
              JsonStrings.quoted(field.name())
                  + ":"
                  + json(((GenericRecord) value).get(field.name()), field.schema()));
        }
        yield object.toString();
      }
      case UNION -> throw new IllegalStateException("a union inside a union");
    };
  }

  private static String integer(long value, String logical) {
    if (logical.equals("date")) {
      return JsonStrings.quoted(IsoForm.date(value));
    }
    if (logical.startsWith("time-")) {
      return JsonStrings.quoted(IsoForm.time(micros(value, logical)));
    }
    if (logical.contains("timestamp")) {
      String text = IsoForm.timestamp(micros(value, logical));
      return JsonStrings.quoted(logical.startsWith("local") ? text : text + "Z");
    }
    return Long.toString(value);
  }
}
