package dev.dusky.warehouses.source;

import dev.dusky.core.vector.DecimalVector;
import java.math.BigInteger;

/** Decodes PostgreSQL's binary numeric, as {@code numeric_send} in its source writes it. Hot. */
final class BinaryNumeric {

  private static final int NEGATIVE = 0x4000;
  private static final int BASE = 10_000;
  private static final long[] POWERS = new long[19];

  static {
    POWERS[0] = 1;
    for (int i = 1; i < POWERS.length; i++) {
      POWERS[i] = POWERS[i - 1] * 10;
    }
  }

  /** The most groups of four digits, including those that are implied, that surely fit a long. */
  private static final int SAFE_GROUPS = 4;

  /**
   * Takes a number over.
   *
   * @throws ArithmeticException if it is none, or the column has fewer decimals
   */
  void take(byte[] b, int at, DecimalVector into, int row) {
    int groups = BinaryRows.shortAt(b, at);
    int weight = BinaryRows.shortAt(b, at + 2);
    int sign = BinaryRows.shortAt(b, at + 4) & 0xffff;
    if (sign != 0 && sign != NEGATIVE) {
      throw new ArithmeticException(sign == 0xc000 ? "NaN" : "an infinite number");
    }
    int scale = into.scale();
    // The last group counts 10^(4 * (weight - groups + 1)); the vector counts in 10^-scale.
    int shift = 4 * (weight - groups + 1) + scale;
    if (Math.max(groups, weight + 1 + (scale + 3) / 4) <= SAFE_GROUPS) {
      long value = 0;
      for (int i = 0; i < groups; i++) {
        value = value * BASE + BinaryRows.shortAt(b, at + 8 + 2 * i);
      }
      long unscaled = shift >= 0 ? value * POWERS[shift] : exact(value, POWERS[-shift]);
      into.set(row, sign == NEGATIVE ? -unscaled : unscaled);
      return;
    }
    wide(b, at, groups, shift, sign == NEGATIVE, into, row);
  }

  private static long exact(long value, long power) {
    long result = value / power;
    if (result * power != value) {
      throw new ArithmeticException("a number with more decimals");
    }
    return result;
  }

  private static void wide(
      byte[] b, int at, int groups, int shift, boolean negative, DecimalVector into, int row) {
    BigInteger value = BigInteger.ZERO;
    for (int i = 0; i < groups; i++) {
      value =
          value
              .multiply(BigInteger.valueOf(BASE))
              .add(BigInteger.valueOf(BinaryRows.shortAt(b, at + 8 + 2 * i)));
    }
    if (shift >= 0) {
      value = value.multiply(BigInteger.TEN.pow(shift));
    } else {
      BigInteger[] parts = value.divideAndRemainder(BigInteger.TEN.pow(-shift));
      if (parts[1].signum() != 0) {
        throw new ArithmeticException("a number with more decimals");
      }
      value = parts[0];
    }
    BigInteger signed = negative ? value.negate() : value;
    if (signed.bitLength() <= 62) {
      into.set(row, signed.longValue());
    } else {
      into.setWide(row, signed);
    }
  }
}
