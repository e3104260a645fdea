package dev.dusky.formats;

import dev.dusky.core.json.JsonStrings;
import dev.dusky.core.type.IsoForm;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.util.HexFormat;
import java.util.StringJoiner;
import java.util.UUID;
import org.apache.parquet.example.data.Group;
import org.apache.parquet.schema.GroupType;
import org.apache.parquet.schema.LogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.DecimalLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.ListLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.MapLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.TimeLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.TimestampLogicalTypeAnnotation;
import org.apache.parquet.schema.PrimitiveType;
import org.apache.parquet.schema.Type;

/** Writes Parquet's structures as JSON: lists as arrays, maps as objects. */
final class ParquetJson {

  private ParquetJson() {}

  /** A field of a record, or null if it has none. */
  static String of(Group record, String name) {
    GroupType schema = record.getType();
    int field = schema.getFieldIndex(name);
    int count = record.getFieldRepetitionCount(field);
    Type type = schema.getType(field);
    if (type.isRepetition(Type.Repetition.REPEATED)) {
      StringJoiner list = new StringJoiner(",", "[", "]");
      for (int i = 0; i < count; i++) {
        list.add(value(record, field, i, type));
      }
      return list.toString();
    }
    return count == 0 ? null : value(record, field, 0, type);
  }

  private static String value(Group record, int field, int index, Type type) {
    if (type.isPrimitive()) {
      return primitive(record, field, index, type.asPrimitiveType());
    }
    Group group = record.getGroup(field, index);
    LogicalTypeAnnotation logical = type.getLogicalTypeAnnotation();
    if (logical instanceof ListLogicalTypeAnnotation) {
      return list(group);
    }
    if (logical instanceof MapLogicalTypeAnnotation) {
      return map(group);
    }
    StringJoiner object = new StringJoiner(",", "{", "}");
    for (Type child : type.asGroupType().getFields()) {
      String json = of(group, child.getName());
      object.add(JsonStrings.quoted(child.getName()) + ":" + (json == null ? "null" : json));
    }
    return object.toString();
  }

  private static String list(Group group) {
    StringJoiner list = new StringJoiner(",", "[", "]");
    Type repeated = group.getType().getType(0);
    boolean wrapped = !repeated.isPrimitive() && repeated.asGroupType().getFieldCount() == 1;
    for (int i = 0; i < group.getFieldRepetitionCount(0); i++) {
      if (wrapped) {
        Group element = group.getGroup(0, i);
        String json = of(element, element.getType().getFieldName(0));
        list.add(json == null ? "null" : json);
      } else {
        list.add(value(group, 0, i, repeated));
      }
    }
    return list.toString();
  }

  private static String map(Group group) {
    StringJoiner object = new StringJoiner(",", "{", "}");
    for (int i = 0; i < group.getFieldRepetitionCount(0); i++) {
      Group entry = group.getGroup(0, i);
      String key = of(entry, entry.getType().getFieldName(0));
      String value =
          entry.getType().getFieldCount() > 1 ? of(entry, entry.getType().getFieldName(1)) : null;
      object.add(
          (key.startsWith("\"") ? key : JsonStrings.quoted(key))
              + ":"
              + (value == null ? "null" : value));
    }
    return object.toString();
  }

  private static String primitive(Group record, int field, int index, PrimitiveType type) {
    LogicalTypeAnnotation logical = type.getLogicalTypeAnnotation();
    switch (type.getPrimitiveTypeName()) {
      case BOOLEAN:
        return Boolean.toString(record.getBoolean(field, index));
      case INT32:
        return integer(record.getInteger(field, index), logical);
      case INT64:
        return integer(record.getLong(field, index), logical);
      case FLOAT:
        return number(record.getFloat(field, index), record.getFloat(field, index));
      case DOUBLE:
        return number(record.getDouble(field, index), record.getDouble(field, index));
      default:
        break;
    }
    byte[] bytes =
        type.getPrimitiveTypeName() == PrimitiveType.PrimitiveTypeName.INT96
            ? record.getInt96(field, index).getBytes()
            : record.getBinary(field, index).getBytes();
    if (logical instanceof DecimalLogicalTypeAnnotation decimal) {
      return new BigDecimal(new BigInteger(bytes), decimal.getScale()).toPlainString();
    }
    if (logical instanceof LogicalTypeAnnotation.UUIDLogicalTypeAnnotation) {
      ByteBuffer halves = ByteBuffer.wrap(bytes);
      return JsonStrings.quoted(new UUID(halves.getLong(), halves.getLong()).toString());
    }
    if (logical instanceof LogicalTypeAnnotation.JsonLogicalTypeAnnotation) {
      return new String(bytes, java.nio.charset.StandardCharsets.UTF_8);
    }
    boolean text =
        logical instanceof LogicalTypeAnnotation.StringLogicalTypeAnnotation
            || logical instanceof LogicalTypeAnnotation.EnumLogicalTypeAnnotation;
    return JsonStrings.quoted(
        text
            ? new String(bytes, java.nio.charset.StandardCharsets.UTF_8)
            : HexFormat.of().formatHex(bytes));
  }

  private static String number(double value, Number shown) {
    return Double.isNaN(value) || Double.isInfinite(value)
        ? JsonStrings.quoted(shown.toString())
        : shown.toString();
  }

  private static String integer(long value, LogicalTypeAnnotation logical) {
    if (logical instanceof DecimalLogicalTypeAnnotation decimal) {
      return BigDecimal.valueOf(value, decimal.getScale()).toPlainString();
    }
    if (logical instanceof LogicalTypeAnnotation.DateLogicalTypeAnnotation) {
      return JsonStrings.quoted(IsoForm.date(value));
    }
    if (logical instanceof TimestampLogicalTypeAnnotation timestamp) {
      String text = IsoForm.timestamp(micros(value, timestamp.getUnit()));
      return JsonStrings.quoted(timestamp.isAdjustedToUTC() ? text + "Z" : text);
    }
    if (logical instanceof TimeLogicalTypeAnnotation time) {
      return JsonStrings.quoted(IsoForm.time(micros(value, time.getUnit())));
    }
    return Long.toString(value);
  }

  private static long micros(long value, LogicalTypeAnnotation.TimeUnit unit) {
    return switch (unit) {
      case MILLIS -> value * 1000;
      case MICROS -> value;
      case NANOS -> Math.floorDiv(value, 1000L);
    };
  }
}
