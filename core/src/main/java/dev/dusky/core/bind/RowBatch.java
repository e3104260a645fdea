package dev.dusky.core.bind;

import dev.dusky.core.reject.Reject;
import java.util.ArrayList;
import java.util.List;

/**
 * A run of typed rows, column by column, with the rejects found on the way. Row numbers are those
 * of the record batch; only the selected ones are good. Reused from batch to batch.
 */
public final class RowBatch {

  private final List<ColumnVector> columns;
  private final List<Reject> rejects = new ArrayList<>();
  private int[] selected = new int[0];
  private int count;
  private int read;
  private int rejected;
  private long firstRecordNumber;

  RowBatch(List<ColumnVector> columns) {
    this.columns = List.copyOf(columns);
  }

  void reset(int rows, long newFirstRecordNumber) {
    if (selected.length < rows) {
      selected = new int[rows + rows / 4];
    }
    count = 0;
    read = rows;
    rejected = 0;
    rejects.clear();
    firstRecordNumber = newFirstRecordNumber;
    for (ColumnVector column : columns) {
      column.reset(rows);
    }
  }

  void select(int row) {
    selected[count++] = row;
  }

  void countReject() {
    rejected++;
  }

  void keepReject(Reject reject) {
    rejects.add(reject);
  }

  /** The columns in the feed's order. */
  public List<ColumnVector> columns() {
    return columns;
  }

  /** How many good rows there are. */
  public int count() {
    return count;
  }

  /** The row number of the i-th good row. */
  public int selected(int i) {
    return selected[i];
  }

  /** The number in its file of the record that gave this row, from 1. */
  public long recordNumber(int row) {
    return firstRecordNumber + row;
  }

  /** How many records were read for this batch, good or not. */
  public int read() {
    return read;
  }

  /** How many of them are rejects. */
  public int rejected() {
    return rejected;
  }

  /** The rejects that are kept; beyond the feed's cap they are only counted. */
  public List<Reject> rejects() {
    return rejects;
  }
}
