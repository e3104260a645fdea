package dev.dusky.warehouses.postgres;

import java.math.BigDecimal;
import java.math.BigInteger;

/**
 * Encodes decimal numbers as PostgreSQL's binary numeric: groups of four digits, as {@code
 * numeric_recv} in its source takes them. Hot.
 */
final class CopyNumeric {

  private static final long[] POWERS = new long[19];
  private static final int BASE = 10_000;
  private static final int POSITIVE = 0x0000;
  private static final int NEGATIVE = 0x4000;

  static {
    POWERS[0] = 1;
    for (int i = 1; i < POWERS.length; i++) {
      POWERS[i] = POWERS[i - 1] * 10;
    }
  }

  /** The most digits that fit into four groups. */
  private static final int FOUR_GROUPS = 16;

  private final short[] digits = new short[16];

  /** Writes an unscaled value of up to 18 digits as a field. */
  void put(CopyBuffer out, long unscaled, int scale) {
    long value = Math.abs(unscaled);
    int fractionGroups = scale + 3 >> 2;
    int zeros = (fractionGroups << 2) - scale;
    if (scale > FOUR_GROUPS || value >= POWERS[FOUR_GROUPS - zeros]) {
      putLong(out, unscaled, scale);
      return;
    }
    // With its last group filled up, the number is a row of groups: no division but by a constant.
    long rest = value * POWERS[zeros];
    long groups = 0;
    int count = 0;
    while (rest != 0 || count < fractionGroups) {
      long next = rest / BASE;
      groups |= rest - next * BASE << (count << 4);
      rest = next;
      count++;
    }
    long head =
        (long) count << 48
            | (count - fractionGroups - 1 & 0xffffL) << 32
            | (unscaled < 0 ? NEGATIVE : POSITIVE) << 16
            | scale;
    out.putNumeric(head, groups, count);
  }

  private void putLong(CopyBuffer out, long unscaled, int scale) {
    if (scale > 15) {
      put(out, BigDecimal.valueOf(unscaled, scale));
      return;
    }
    long value = Math.abs(unscaled);
    long whole = value / POWERS[scale];
    int fractionGroups = (scale + 3) / 4;
    long fraction = (value - whole * POWERS[scale]) * POWERS[fractionGroups * 4 - scale];
    int at = digits.length;
    for (int i = 0; i < fractionGroups; i++) {
      long rest = fraction / BASE;
      digits[--at] = (short) (fraction - rest * BASE);
      fraction = rest;
    }
    int wholeGroups = 0;
    while (whole != 0) {
      long rest = whole / BASE;
      digits[--at] = (short) (whole - rest * BASE);
      whole = rest;
      wholeGroups++;
    }
    int count = digits.length - at;
    out.putInt(8 + count * 2);
    out.putShort(count);
    out.putShort(wholeGroups - 1);
    out.putShort(unscaled < 0 ? NEGATIVE : POSITIVE);
    out.putShort(scale);
    for (int i = at; i < digits.length; i++) {
      out.putShort(digits[i]);
    }
  }

  /** Writes any number as a field. */
  void put(CopyBuffer out, BigDecimal number) {
    int scale = number.scale();
    int fractionGroups = (scale + 3) / 4;
    BigInteger rest = number.setScale(fractionGroups * 4).unscaledValue().abs();
    java.util.ArrayDeque<Integer> groups = new java.util.ArrayDeque<>();
    BigInteger base = BigInteger.valueOf(BASE);
    while (rest.signum() != 0) {
      BigInteger[] parts = rest.divideAndRemainder(base);
      groups.addFirst(parts[1].intValue());
      rest = parts[0];
    }
    out.putInt(8 + groups.size() * 2);
    out.putShort(groups.size());
    out.putShort(groups.size() - fractionGroups - 1);
    out.putShort(number.signum() < 0 ? NEGATIVE : POSITIVE);
    out.putShort(scale);
    for (int group : groups) {
      out.putShort(group);
    }
  }
}
