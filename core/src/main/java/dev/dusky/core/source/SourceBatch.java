package dev.dusky.core.source;

import dev.dusky.core.vector.ColumnVector;
import java.util.List;

/** Rows of a query, as typed columns. Reused from batch to batch. */
public final class SourceBatch {

  /** The maximum number of rows. */
  public static final int ROWS = 2_000;

  private final List<ColumnVector> vectors;
  private int rows;

  /** A batch for rows of these columns. */
  public SourceBatch(List<SourceColumn> columns) {
    vectors = columns.stream().map(column -> ColumnVector.of(column.type())).toList();
  }

  /** Makes it empty. */
  public void reset() {
    vectors.forEach(vector -> vector.reset(ROWS));
    rows = 0;
  }

  /** Sets how many rows it has. */
  public void rows(int count) {
    rows = count;
  }

  /** How many rows it has. */
  public int rows() {
    return rows;
  }

  /** The values of a column. */
  public ColumnVector column(int index) {
    return vectors.get(index);
  }
}
