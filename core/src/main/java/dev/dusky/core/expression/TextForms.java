package dev.dusky.core.expression;

import dev.dusky.core.type.IsoForm;
import dev.dusky.core.type.TypeKind;
import java.math.BigDecimal;
import java.math.MathContext;
import java.nio.charset.StandardCharsets;
import java.util.UUID;

/** How values are written as text. */
final class TextForms {

  private TextForms() {}

  static Step step(Step a) {
    TypeKind kind = a.type();
    return switch (kind) {
      case SMALLINT, INTEGER, BIGINT ->
          new Step(
              TypeKind.TEXT,
              (s, row) -> {
                if (!a.eval(row)) {
                  return false;
                }
                byte[] room = s.room(20);
                return s.setText(room, digits(a.whole, room), 20);
              });
      case JSON -> new Step(TypeKind.TEXT, (s, row) -> a.eval(row) && s.setText(a.b, a.from, a.to));
      default -> new Step(TypeKind.TEXT, (s, row) -> a.eval(row) && s.setText(of(kind, a)));
    };
  }

  /** Writes a number at the end of 20 bytes; gives where it starts. */
  private static int digits(long value, byte[] room) {
    if (value == Long.MIN_VALUE) {
      byte[] text = Long.toString(value).getBytes(StandardCharsets.US_ASCII);
      System.arraycopy(text, 0, room, 0, 20);
      return 0;
    }
    long rest = Math.abs(value);
    int at = 20;
    do {
      room[--at] = (byte) ('0' + rest % 10);
      rest /= 10;
    } while (rest != 0);
    if (value < 0) {
      room[--at] = '-';
    }
    return at;
  }

  static String of(TypeKind kind, Step a) {
    return switch (kind) {
      case SMALLINT, INTEGER, BIGINT -> Long.toString(a.whole);
      case BOOLEAN -> a.whole != 0 ? "true" : "false";
      case DECIMAL -> a.decimal().toPlainString();
      case REAL -> real(a.real, 9);
      case DOUBLE -> real(a.real, 17);
      case DATE -> IsoForm.date(a.whole);
      case TIME -> IsoForm.time(a.whole);
      case TIMESTAMP -> IsoForm.timestamp(a.whole);
      case TIMESTAMP_TZ -> IsoForm.timestamp(a.whole) + "+00";
      case UUID -> new UUID(a.whole, a.low).toString();
      default -> a.text();
    };
  }

  /**
   * A floating-point number in the shortest digits that identify it.
   *
   * @param digits how many digits always suffice: 17, or 9 for {@code real}
   */
  static String real(double value, int digits) {
    if (Double.isNaN(value)) {
      return "NaN";
    }
    if (Double.isInfinite(value)) {
      return value > 0 ? "Infinity" : "-Infinity";
    }
    if (value == 0) {
      return 1 / value < 0 ? "-0" : "0";
    }
    boolean single = digits == 9;
    BigDecimal shortest =
        new BigDecimal(single ? Float.toString((float) value) : Double.toString(value));
    BigDecimal shorter = shortest.round(new MathContext(digits - 1));
    boolean same = single ? shorter.floatValue() == (float) value : shorter.doubleValue() == value;
    shortest = (same ? shorter : shortest).stripTrailingZeros();
    int exponent = shortest.precision() - shortest.scale() - 1;
    if (exponent >= -4 && exponent < (single ? 6 : 15)) {
      return shortest.toPlainString();
    }
    String all = shortest.unscaledValue().abs().toString();
    return (shortest.signum() < 0 ? "-" : "")
        + all.charAt(0)
        + (all.length() > 1 ? "." + all.substring(1) : "")
        + "e%s%02d".formatted(exponent < 0 ? "-" : "+", Math.abs(exponent));
  }
}
