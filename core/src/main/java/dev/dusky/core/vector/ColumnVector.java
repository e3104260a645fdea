package dev.dusky.core.vector;

import dev.dusky.core.type.SqlType;
import java.util.Arrays;

/** The values of one column for a batch of rows. Reused from batch to batch. */
public abstract sealed class ColumnVector
    permits LongVector, DoubleVector, DecimalVector, BytesVector, UuidVector {

  private boolean[] nulls = new boolean[0];

  /** A vector for values of a type. */
  public static ColumnVector of(SqlType type) {
    return switch (type.kind()) {
      case BOOLEAN, SMALLINT, INTEGER, BIGINT, DATE, TIME, TIMESTAMP, TIMESTAMP_TZ ->
          new LongVector();
      case REAL, DOUBLE -> new DoubleVector();
      case DECIMAL -> new DecimalVector(type.scale());
      case UUID -> new UuidVector();
      case CHAR, VARCHAR, TEXT, JSON, BINARY -> new BytesVector();
    };
  }

  /** Makes room for that many rows, none of them null. */
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

  /** Takes a row of another vector of the same type, its null included. */
  public final void take(int row, ColumnVector from, int at) {
    if (from.isNull(at)) {
      setNull(row);
    } else {
      copy(row, from, at);
    }
  }

  /** Compares a row with one of a vector of the same type; null is less than any value. */
  public final int compare(int row, ColumnVector other, int at) {
    if (nulls[row] || other.nulls[at]) {
      return Boolean.compare(other.nulls[at], nulls[row]);
    }
    return order(row, other, at);
  }

  /**
   * A number for a row by which most rows can be compared: a row with a less one is less. Of equal
   * numbers nothing follows, unless {@link #ranked}.
   */
  public final long rank(int row) {
    return nulls[row] ? Long.MIN_VALUE : number(row);
  }

  /** Whether rows with equal ranks are equal, but for null and the least value. */
  public boolean ranked() {
    return false;
  }

  /** The rank of a value, which is not null. */
  abstract long number(int row);

  /** Takes a value, which is not null. */
  abstract void copy(int row, ColumnVector from, int at);

  /** Compares two values, neither of which is null. */
  abstract int order(int row, ColumnVector other, int at);
}
