package dev.dusky.engine;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeFormatterBuilder;
import java.time.temporal.ChronoField;
import java.util.HexFormat;
import java.util.Locale;
import org.apache.spark.sql.Row;
import scala.collection.JavaConverters;
import scala.collection.Map;
import scala.collection.Seq;

/**
 * Values of rows as JSON: a number, a truth value, null, or text. A structure, list or map is the
 * text of a JSON value.
 */
final class Values {

  private static final DateTimeFormatter MOMENT =
      new DateTimeFormatterBuilder()
          .appendPattern("yyyy-MM-dd HH:mm:ss")
          .appendFraction(ChronoField.NANO_OF_SECOND, 0, 9, true)
          .toFormatter(Locale.ROOT);

  private Values() {}

  static void add(ArrayNode values, Object value) {
    if (value == null) {
      values.addNull();
    } else if (value instanceof Boolean truth) {
      values.add(truth);
    } else if (value instanceof BigDecimal number) {
      values.add(number);
    } else if (value instanceof Double number && Double.isFinite(number)) {
      values.add(number);
    } else if (value instanceof Float number && Float.isFinite(number)) {
      values.add(number);
    } else if (value instanceof Long number) {
      values.add(number);
    } else if (value instanceof Integer number) {
      values.add(number);
    } else if (value instanceof byte[] bytes) {
      values.add("\\x" + HexFormat.of().formatHex(bytes));
    } else if (value instanceof LocalDateTime local) {
      values.add(MOMENT.format(local));
    } else if (value instanceof java.sql.Timestamp moment) {
      values.add(zoned(moment.toInstant()));
    } else if (value instanceof Instant moment) {
      values.add(zoned(moment));
    } else if (value instanceof Row || value instanceof Seq || value instanceof Map) {
      values.add(nested(value).toString());
    } else {
      values.add(String.valueOf(value));
    }
  }

  private static JsonNode nested(Object value) {
    if (value instanceof Row row) {
      ObjectNode object = JsonNodeFactory.instance.objectNode();
      for (int i = 0; i < row.size(); i++) {
        object.set(row.schema().fieldNames()[i], nested(row.get(i)));
      }
      return object;
    }
    if (value instanceof Seq<?> elements) {
      ArrayNode array = JsonNodeFactory.instance.arrayNode();
      JavaConverters.seqAsJavaList(elements).forEach(element -> array.add(nested(element)));
      return array;
    }
    if (value instanceof Map<?, ?> entries) {
      ObjectNode object = JsonNodeFactory.instance.objectNode();
      JavaConverters.mapAsJavaMap(entries)
          .forEach((key, entry) -> object.set(String.valueOf(key), nested(entry)));
      return object;
    }
    ArrayNode one = JsonNodeFactory.instance.arrayNode();
    add(one, value);
    return one.get(0);
  }

  private static String zoned(Instant moment) {
    return MOMENT.format(LocalDateTime.ofInstant(moment, ZoneOffset.UTC)) + "+00";
  }
}
