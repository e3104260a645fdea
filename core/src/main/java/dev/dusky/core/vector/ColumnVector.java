package dev.dusky.core.vector;

import java.util.Arrays;

/** The values of one column for a batch of rows. Reused from batch to batch. */
public abstract sealed class ColumnVector
    permits LongVector, DoubleVector, DecimalVector, BytesVector, UuidVector {

  private boolean[] nulls = new boolean[0];

  /** Makes room for so many rows, none of them null. */
  public void reset(int rows) {
    if (nulls.length < rows) {
      nulls = new boolean[rows + rows / 4];
    } else {
      Arrays.fill(nulls, 0, rows, false);
    }
  }

  /** Marks the row as having no value. */
  public void setNull(int row) {
    nulls[row] = true;
  }

  /** The number of rows there is room for. */
  final int room() {
    return nulls.length;
  }

  /** Whether the row has no value. */
  public final boolean isNull(int row) {
    return nulls[row];
  }
}
