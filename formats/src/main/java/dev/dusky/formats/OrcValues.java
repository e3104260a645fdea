package dev.dusky.formats;

import dev.dusky.core.json.JsonStrings;
import dev.dusky.core.type.IsoForm;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.LongVector;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.util.HexFormat;
import java.util.List;
import java.util.StringJoiner;
import org.apache.orc.TypeDescription;
import org.apache.orc.storage.ql.exec.vector.BytesColumnVector;
import org.apache.orc.storage.ql.exec.vector.ColumnVector;
import org.apache.orc.storage.ql.exec.vector.DecimalColumnVector;
import org.apache.orc.storage.ql.exec.vector.DoubleColumnVector;
import org.apache.orc.storage.ql.exec.vector.ListColumnVector;
import org.apache.orc.storage.ql.exec.vector.LongColumnVector;
import org.apache.orc.storage.ql.exec.vector.MapColumnVector;
import org.apache.orc.storage.ql.exec.vector.StructColumnVector;
import org.apache.orc.storage.ql.exec.vector.TimestampColumnVector;
import org.apache.orc.storage.ql.exec.vector.UnionColumnVector;

/** How ORC's types become SQL types, and its values those of our vectors. */
final class OrcValues {

  private OrcValues() {}

  /** The SQL type; structures and unions are JSON. */
  static SqlType type(TypeDescription type) {
    return switch (type.getCategory()) {
      case BOOLEAN -> SqlType.of(TypeKind.BOOLEAN);
      case BYTE, SHORT -> SqlType.of(TypeKind.SMALLINT);
      case INT -> SqlType.of(TypeKind.INTEGER);
      case LONG -> SqlType.of(TypeKind.BIGINT);
      case FLOAT -> SqlType.of(TypeKind.REAL);
      case DOUBLE -> SqlType.of(TypeKind.DOUBLE);
      case DECIMAL -> SqlType.decimal(type.getPrecision(), type.getScale());
      case STRING, VARCHAR, CHAR -> SqlType.of(TypeKind.TEXT);
      case BINARY -> SqlType.of(TypeKind.BINARY);
      case DATE -> SqlType.of(TypeKind.DATE);
      case TIMESTAMP -> SqlType.of(TypeKind.TIMESTAMP);
      case TIMESTAMP_INSTANT -> SqlType.of(TypeKind.TIMESTAMP_TZ);
      default -> SqlType.of(TypeKind.JSON);
    };
  }

  private static int at(ColumnVector vector, int row) {
    return vector.isRepeating ? 0 : row;
  }

  private static long micros(TimestampColumnVector vector, int at) {
    return Math.floorDiv(vector.time[at], 1000L) * 1_000_000L + vector.nanos[at] / 1000;
  }

  /** Puts a value that is not null into a column of a row. */
  static void put(
      ColumnVector from, TypeDescription orc, SqlType type, TypedRows rows, int column, int row) {
    int at = at(from, row);
    switch (type.kind()) {
      case BOOLEAN, SMALLINT, INTEGER, BIGINT, DATE ->
          ((LongVector) rows.vector(column)).set(row, ((LongColumnVector) from).vector[at]);
      case TIMESTAMP, TIMESTAMP_TZ -> {
        TimestampColumnVector times = (TimestampColumnVector) from;
        ((LongVector) rows.vector(column)).set(row, micros(times, at));
        if (times.nanos[at] % 1000 != 0) {
          rows.fault(row, ParquetTypes.tooFine(times.nanos[at]));
        }
      }
      case REAL, DOUBLE ->
          ((dev.dusky.core.vector.DoubleVector) rows.vector(column))
              .set(row, ((DoubleColumnVector) from).vector[at]);
      case DECIMAL -> {
        BigDecimal value =
            ((DecimalColumnVector) from).vector[at].getHiveDecimal().bigDecimalValue();
        BigInteger unscaled = value.setScale(type.scale()).unscaledValue();
        DecimalVector decimals = (DecimalVector) rows.vector(column);
        if (unscaled.bitLength() > 59) {
          decimals.setWide(row, unscaled);
        } else {
          decimals.set(row, unscaled.longValue());
        }
      }
      case JSON -> {
        byte[] json = json(from, orc, row).getBytes(StandardCharsets.UTF_8);
        ((BytesVector) rows.vector(column)).set(row, json, 0, json.length);
      }
      default -> {
        BytesColumnVector bytes = (BytesColumnVector) from;
        int start = bytes.start[at];
        ((BytesVector) rows.vector(column))
            .set(row, bytes.vector[at], start, start + bytes.length[at]);
      }
    }
  }

  /** A value as JSON. */
  static String json(ColumnVector vector, TypeDescription orc, int row) {
    int at = at(vector, row);
    if (!vector.noNulls && vector.isNull[at]) {
      return "null";
    }
    List<TypeDescription> children = orc.getChildren();
    return switch (orc.getCategory()) {
      case BOOLEAN -> ((LongColumnVector) vector).vector[at] == 0 ? "false" : "true";
      case BYTE, SHORT, INT, LONG -> Long.toString(((LongColumnVector) vector).vector[at]);
      case DATE -> JsonStrings.quoted(IsoForm.date(((LongColumnVector) vector).vector[at]));
      case FLOAT, DOUBLE -> number(((DoubleColumnVector) vector).vector[at], orc);
      case DECIMAL ->
          ((DecimalColumnVector) vector)
              .vector[at]
              .getHiveDecimal()
              .bigDecimalValue()
              .setScale(orc.getScale())
              .toPlainString();
      case TIMESTAMP, TIMESTAMP_INSTANT -> {
        String text = IsoForm.timestamp(micros((TimestampColumnVector) vector, at));
        boolean instant = orc.getCategory() == TypeDescription.Category.TIMESTAMP_INSTANT;
        yield JsonStrings.quoted(instant ? text + "Z" : text);
      }
      case LIST -> {
        ListColumnVector lists = (ListColumnVector) vector;
        StringJoiner list = new StringJoiner(",", "[", "]");
        for (long i = lists.offsets[at]; i < lists.offsets[at] + lists.lengths[at]; i++) {
          list.add(json(lists.child, children.get(0), (int) i));
        }
        yield list.toString();
      }
      case MAP -> {
        MapColumnVector maps = (MapColumnVector) vector;
        StringJoiner object = new StringJoiner(",", "{", "}");
        for (long i = maps.offsets[at]; i < maps.offsets[at] + maps.lengths[at]; i++) {
          String key = json(maps.keys, children.get(0), (int) i);
          object.add(
              (key.startsWith("\"") ? key : JsonStrings.quoted(key))
                  + ":"
                  + json(maps.values, children.get(1), (int) i));
        }
        yield object.toString();
      }
      case STRUCT -> {
        StructColumnVector structs = (StructColumnVector) vector;
        StringJoiner object = new StringJoiner(",", "{", "}");
        for (int i = 0; i < structs.fields.length; i++) {
          object.add(
              JsonStrings.quoted(orc.getFieldNames().get(i))
                  + ":"
                  + json(structs.fields[i], children.get(i), at));
        }
        yield object.toString();
      }
      case UNION -> {
        UnionColumnVector union = (UnionColumnVector) vector;
        int tag = union.tags[at];
        yield json(union.fields[tag], children.get(tag), at);
      }
      case BINARY -> JsonStrings.quoted(HexFormat.of().formatHex(bytes(vector, at)));
      default -> JsonStrings.quoted(new String(bytes(vector, at), StandardCharsets.UTF_8));
    };
  }

  private static byte[] bytes(ColumnVector vector, int at) {
    BytesColumnVector bytes = (BytesColumnVector) vector;
    int start = bytes.start[at];
    return java.util.Arrays.copyOfRange(bytes.vector[at], start, start + bytes.length[at]);
  }

  private static String number(double value, TypeDescription orc) {
    String text =
        orc.getCategory() == TypeDescription.Category.FLOAT
            ? Float.toString((float) value)
            : Double.toString(value);
    boolean finite = !Double.isNaN(value) && !Double.isInfinite(value);
    return finite ? text : JsonStrings.quoted(text);
  }
}
