package dev.dusky.core.type;

import dev.dusky.core.bytes.ByteWords;
import dev.dusky.core.reject.RejectCode;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;

/** Reads decimal numbers as unscaled whole numbers of a fixed scale. Hot. */
public final class DecimalText {

  private static final int LONG_DIGITS = 18;
  private static final long[] POWERS = new long[LONG_DIGITS + 1];

  static {
    POWERS[0] = 1;
    for (int i = 1; i <= LONG_DIGITS; i++) {
      POWERS[i] = POWERS[i - 1] * 10;
    }
  }

  private final int precision;
  private final int scale;
  private RejectCode failure;
  private BigInteger wide;

  /** A reader for {@code decimal(precision, scale)}. */
  public DecimalText(int precision, int scale) {
    this.precision = precision;
    this.scale = scale;
  }

  /**
   * The unscaled value of {@code b[start, end)}; check {@link #failure} before using it, and {@link
   * #wide} for a value of more than 18 digits.
   */
  public long parse(byte[] b, int start, int end) {
    failure = null;
    wide = null;
    int i = start;
    boolean negative = false;
    if (i < end && (b[i] == '-' || b[i] == '+')) {
      negative = b[i] == '-';
      i++;
    }
    int length = end - i;
    if (length > scale + 1
        && length <= 8
        && scale > 0
        && end >= 8
        && b[end - scale - 1] == '.'
        && length - 1 <= precision) {
      long digits = ByteWords.without(ByteWords.tailOfDigits(b, end, length), scale);
      if (ByteWords.areDigits(digits)) {
        long value = ByteWords.number(digits);
        return negative ? -value : value;
      }
    }
    int digitsFrom = i;
    long value = 0;
    int point = -1;
    if (end - i > LONG_DIGITS || precision > LONG_DIGITS) {
      return parseWide(b, start, end);
    }
    for (; i < end; i++) {
      int digit = b[i] - '0';
      if (digit >= 0 && digit <= 9) {
        value = value * 10 + digit;
      } else if (b[i] == '.' && point < 0) {
        point = i;
      } else {
        return parseWide(b, start, end);
      }
    }
    int digits = end - digitsFrom - (point < 0 ? 0 : 1);
    if (digits == 0) {
      failure = RejectCode.BAD_NUMBER;
      return 0;
    }
    int decimals = point < 0 ? 0 : end - point - 1;
    for (; decimals > scale; decimals--) {
      if (value % 10 != 0) {
        failure = RejectCode.TOO_MANY_DECIMALS;
        return 0;
      }
      value /= 10;
    }
    int up = scale - decimals;
    if (up > 0) {
      if (value >= POWERS[precision - up]) {
        failure = RejectCode.OUT_OF_RANGE;
        return 0;
      }
      value *= POWERS[up];
    } else if (value >= POWERS[precision]) {
      failure = RejectCode.OUT_OF_RANGE;
      return 0;
    }
    return negative ? -value : value;
  }

  private long parseWide(byte[] b, int start, int end) {
    if (end - start > SqlType.MOST_DIGITS * 2) {
      failure = RejectCode.OUT_OF_RANGE;
      return 0;
    }
    BigDecimal number;
    try {
      number = new BigDecimal(new String(b, start, end - start, StandardCharsets.US_ASCII));
    } catch (NumberFormatException e) {
      failure = RejectCode.BAD_NUMBER;
      return 0;
    }
    if (number.signum() != 0 && (long) number.precision() - number.scale() > precision - scale) {
      failure = RejectCode.OUT_OF_RANGE;
      return 0;
    }
    if (number.signum() != 0
        && number.scale() > scale
        && number.stripTrailingZeros().scale() > scale) {
      failure = RejectCode.TOO_MANY_DECIMALS;
      return 0;
    }
    BigInteger unscaled =
        number.signum() == 0 ? BigInteger.ZERO : number.setScale(scale).unscaledValue();
    if (unscaled.bitLength() > 59) {
      wide = unscaled;
    }
    return unscaled.longValue();
  }

  /** Why the last value could not be read, or null. */
  public RejectCode failure() {
    return failure;
  }

  /** The last value if it may not fit 18 digits, else null. */
  public BigInteger wide() {
    return wide;
  }
}
