package dev.dusky.core.vector;

import java.util.UUID;

/** UUIDs. */
public final class UuidVector extends ColumnVector {

  private long[] highs = new long[0];
  private long[] lows = new long[0];

  @Override
  public void reset(int rows) {
    super.reset(rows);
    if (highs.length < rows) {
      highs = new long[room()];
      lows = new long[room()];
    }
  }

  /** Sets the value of a row. */
  public void set(int row, long high, long low) {
    highs[row] = high;
    lows[row] = low;
  }

  /** The first 64 bits. */
  public long high(int row) {
    return highs[row];
  }

  /** The last 64 bits. */
  public long low(int row) {
    return lows[row];
  }

  /** The row's value. */
  public UUID get(int row) {
    return new UUID(highs[row], lows[row]);
  }

  @Override
  long number(int row) {
    return highs[row] ^ Long.MIN_VALUE;
  }

  @Override
  void copy(int row, ColumnVector from, int at) {
    UuidVector uuids = (UuidVector) from;
    set(row, uuids.highs[at], uuids.lows[at]);
  }

  @Override
  int order(int row, ColumnVector other, int at) {
    UuidVector uuids = (UuidVector) other;
    int high = Long.compareUnsigned(highs[row], uuids.highs[at]);
    return high != 0 ? high : Long.compareUnsigned(lows[row], uuids.lows[at]);
  }
}
