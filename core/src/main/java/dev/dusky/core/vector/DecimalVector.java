package dev.dusky.core.vector;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.Arrays;

/** Decimal numbers as unscaled whole numbers of one scale. */
public final class DecimalVector extends ColumnVector {

  private final int scale;
  private long[] values = new long[0];
  private BigInteger[] wide;

  /** A vector of numbers with that many decimals. */
  public DecimalVector(int scale) {
    this.scale = scale;
  }

  @Override
  public void reset(int rows) {
    super.reset(rows);
    if (values.length < rows) {
      values = new long[room()];
    }
    if (wide != null) {
      wide = wide.length < rows ? new BigInteger[room()] : wide;
      Arrays.fill(wide, null);
    }
  }

  /** Sets the value of a row. */
  public void set(int row, long unscaled) {
    values[row] = unscaled;
  }

  /** Sets a value that may not fit a long. */
  public void setWide(int row, BigInteger unscaled) {
    if (wide == null) {
      wide = new BigInteger[room()];
    }
    wide[row] = unscaled;
  }

  /** How many decimals the numbers have. */
  public int scale() {
    return scale;
  }

  /** Whether the row's value may not fit a long. */
  public boolean isWide(int row) {
    return wide != null && wide[row] != null;
  }

  /** The row's unscaled value, unless it is wide. */
  public long unscaled(int row) {
    return values[row];
  }

  /** The row's value as a number. */
  public BigDecimal get(int row) {
    return isWide(row) ? new BigDecimal(wide[row], scale) : BigDecimal.valueOf(values[row], scale);
  }

  @Override
  long number(int row) {
    if (isWide(row)) {
      return wide[row].signum() < 0 ? Long.MIN_VALUE : Long.MAX_VALUE;
    }
    return values[row];
  }

  @Override
  void copy(int row, ColumnVector from, int at) {
    DecimalVector decimals = (DecimalVector) from;
    if (decimals.isWide(at)) {
      setWide(row, decimals.wide[at]);
    } else {
      values[row] = decimals.values[at];
    }
  }

  @Override
  int order(int row, ColumnVector other, int at) {
    DecimalVector decimals = (DecimalVector) other;
    return isWide(row) || decimals.isWide(at)
        ? get(row).compareTo(decimals.get(at))
        : Long.compare(values[row], decimals.values[at]);
  }
}
