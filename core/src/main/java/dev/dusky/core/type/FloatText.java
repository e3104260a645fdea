package dev.dusky.core.type;

import dev.dusky.core.reject.RejectCode;
import java.nio.charset.StandardCharsets;

/**
 * Reads binary floating-point numbers, correctly rounded. Short ones take the exact fast path of
 * Clinger, "How to read floating point numbers accurately" (1990); the rest goes to the JDK. Hot.
 */
public final class FloatText {

  private static final double[] POWERS = {
    1e0, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9, 1e10, 1e11, 1e12, 1e13, 1e14, 1e15
  };

  private final boolean single;
  private RejectCode failure;

  /** A reader for {@code real} if single, else {@code double precision}. */
  public FloatText(boolean single) {
    this.single = single;
  }

  /** The value of {@code b[start, end)}; check {@link #failure} before using it. */
  public double parse(byte[] b, int start, int end) {
    failure = null;
    int i = start;
    boolean negative = false;
    if (i < end && (b[i] == '-' || b[i] == '+')) {
      negative = b[i] == '-';
      i++;
    }
    if (single || end - i > 16 || i == end) {
      return parseSlow(b, start, end);
    }
    long value = 0;
    int decimals = -1;
    int digits = 0;
    for (; i < end; i++) {
      int digit = b[i] - '0';
      if (digit >= 0 && digit <= 9) {
        value = value * 10 + digit;
        digits++;
        if (decimals >= 0) {
          decimals++;
        }
      } else if (b[i] == '.' && decimals < 0) {
        decimals = 0;
      } else {
        return parseSlow(b, start, end);
      }
    }
    if (digits == 0 || digits > 15) {
      return parseSlow(b, start, end);
    }
    double result = decimals > 0 ? value / POWERS[decimals] : (double) value;
    return negative ? -result : result;
  }

  private double parseSlow(byte[] b, int start, int end) {
    String text = new String(b, start, Math.min(end - start, 400), StandardCharsets.ISO_8859_1);
    String bare = text.startsWith("-") || text.startsWith("+") ? text.substring(1) : text;
    boolean special = bare.equals("NaN") || bare.equals("Infinity");
    if (!special && !bare.matches("(\\d+\\.?\\d*|\\.\\d+)([eE][-+]?\\d+)?") || end - start > 400) {
      failure = RejectCode.BAD_NUMBER;
      return 0;
    }
    double value = single ? Float.parseFloat(text) : Double.parseDouble(text);
    boolean vanished = value == 0 && bare.split("[eE]", 2)[0].matches(".*[1-9].*");
    if (!special && (Double.isInfinite(value) || vanished)) {
      failure = RejectCode.OUT_OF_RANGE;
      return 0;
    }
    return value;
  }

  /** Why the last value could not be read, or null. */
  public RejectCode failure() {
    return failure;
  }
}
