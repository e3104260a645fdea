package dev.dusky.core.vector;

/** Binary floating-point numbers. */
public final class DoubleVector extends ColumnVector {

  private double[] values = new double[0];

  @Override
  public void reset(int rows) {
    super.reset(rows);
    if (values.length < rows) {
      values = new double[room()];
    }
  }

  /** Sets the value of a row. */
  public void set(int row, double value) {
    values[row] = value;
  }

  /** The row's value. */
  public double get(int row) {
    return values[row];
  }

  @Override
  long number(int row) {
    long bits = Double.doubleToLongBits(values[row]);
    return bits ^ ((bits >> 63) & Long.MAX_VALUE);
  }

  @Override
  void copy(int row, ColumnVector from, int at) {
    values[row] = ((DoubleVector) from).values[at];
  }

  @Override
  int order(int row, ColumnVector other, int at) {
    return Double.compare(values[row], ((DoubleVector) other).values[at]);
  }
}
