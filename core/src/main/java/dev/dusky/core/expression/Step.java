package dev.dusky.core.expression;

import dev.dusky.core.type.TypeKind;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;

/**
 * One operation of a compiled expression together with the place for its result, which its {@link
 * Code} fills; so that nothing is allocated per row. Which of the places counts depends on the
 * type: {@code whole} for integers, booleans (0 or 1), dates (days), times and timestamps
 * (microseconds); {@code real}; {@code unscaled} and {@code scale}, or {@code wide}, for decimals;
 * {@code b[from, to)} for texts, JSON and binary data; {@code whole} and {@code low} for UUIDs.
 * Hot.
 */
final class Step {

  /** Computes the result for a row; false for null. */
  @FunctionalInterface
  interface Code {
    boolean run(Step self, int row);
  }

  private final TypeKind type;
  private final Code code;

  long whole;
  long low;
  double real;
  long unscaled;
  int scale;
  BigDecimal wide;
  byte[] b;
  int from;
  int to;
  private byte[] scratch = new byte[32];

  Step(TypeKind type, Code code) {
    this.type = type;
    this.code = code;
  }

  TypeKind type() {
    return type;
  }

  /** Computes the result; false for null. */
  boolean eval(int row) {
    return code.run(this, row);
  }

  /** Whether a condition holds; null counts as no. */
  boolean holds(int row) {
    return code.run(this, row) && whole != 0;
  }

  // ---- setting results; all give true, so that a code can end with them

  boolean set(long value) {
    whole = value;
    return true;
  }

  boolean set(boolean value) {
    whole = value ? 1 : 0;
    return true;
  }

  boolean setReal(double value) {
    real = value;
    return true;
  }

  boolean setDecimal(long newUnscaled, int newScale) {
    unscaled = newUnscaled;
    scale = newScale;
    wide = null;
    return true;
  }

  boolean setDecimal(BigDecimal value) {
    BigDecimal number = value.scale() < 0 ? value.setScale(0) : value;
    if (number.unscaledValue().bitLength() < 63) {
      return setDecimal(number.unscaledValue().longValue(), number.scale());
    }
    if (number.precision() - number.scale() > 131_072) {
      throw new NoResult("the number is too large");
    }
    wide = number;
    scale = number.scale();
    return true;
  }

  boolean setText(byte[] text, int newFrom, int newTo) {
    b = text;
    from = newFrom;
    to = newTo;
    return true;
  }

  boolean setText(String text) {
    byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
    return setText(bytes, 0, bytes.length);
  }

  /** Takes over another step's result of the same type. */
  boolean take(Step other) {
    whole = other.whole;
    low = other.low;
    real = other.real;
    unscaled = other.unscaled;
    scale = other.scale;
    wide = other.wide;
    b = other.b;
    from = other.from;
    to = other.to;
    return true;
  }

  /** Room for a text of that many bytes. */
  byte[] room(int length) {
    if (scratch.length < length) {
      scratch = new byte[Math.max(length, scratch.length * 2)];
    }
    return scratch;
  }

  // ---- results as objects, for what is not hot

  String text() {
    return new String(b, from, to - from, StandardCharsets.UTF_8);
  }

  BigDecimal decimal() {
    return wide != null ? wide : BigDecimal.valueOf(unscaled, scale);
  }

  boolean isAscii() {
    for (int i = from; i < to; i++) {
      if (b[i] < 0) {
        return false;
      }
    }
    return true;
  }
}
