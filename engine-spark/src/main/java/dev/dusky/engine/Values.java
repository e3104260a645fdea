package dev.dusky.engine;

import com.fasterxml.jackson.databind.node.ArrayNode;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeFormatterBuilder;
import java.time.temporal.ChronoField;
import java.util.HexFormat;
import java.util.Locale;

/** Values of rows as JSON: a number, a truth value, null, or text. */
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
    } else {
      values.add(String.valueOf(value));
    }
  }

  private static String zoned(Instant moment) {
    return MOMENT.format(LocalDateTime.ofInstant(moment, ZoneOffset.UTC)) + "+00";
  }
}
