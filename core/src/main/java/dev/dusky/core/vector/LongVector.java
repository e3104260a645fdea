package dev.dusky.core.vector;

/**
 * Whole numbers, truth values (0 or 1), dates (days since 1970-01-01), times (microseconds of the
 * day) and timestamps (microseconds since 1970-01-01).
 */
public final class LongVector extends ColumnVector {

  private long[] values = new long[0];

  @Override
  public void reset(int rows) {
    super.reset(rows);
    if (values.length < rows) {
      values = new long[room()];
    }
  }

  /** Sets the value of a row. */
  public void set(int row, long value) {
    values[row] = value;
  }

  /** The row's value. */
  public long get(int row) {
    return values[row];
  }

  @Override
  long number(int row) {
    return values[row];
  }

  @Override
  public boolean ranked() {
    return true;
  }

  @Override
  void copy(int row, ColumnVector from, int at) {
    values[row] = ((LongVector) from).values[at];
  }

  @Override
  int order(int row, ColumnVector other, int at) {
    return Long.compare(values[row], ((LongVector) other).values[at]);
  }
}
