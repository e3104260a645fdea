package dev.dusky.core.bind;

import dev.dusky.core.reject.Reject;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.LongVector;
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
  private final List<ColumnVector> hidden;
  private final boolean[] numbers;
  private int filtered;
  private long before;

  /**
   * A batch.
   *
   * @param columns the columns of the table
   * @param hidden fields that only expressions read
   * @param numbers which of the columns hold the number of their record
   */
  RowBatch(List<ColumnVector> columns, List<ColumnVector> hidden, boolean[] numbers) {
    this.columns = List.copyOf(columns);
    this.hidden = List.copyOf(hidden);
    this.numbers = numbers;
  }

  void reset(int rows) {
    if (selected.length < rows) {
      selected = new int[rows + rows / 4];
    }
    count = 0;
    read = rows;
    rejected = 0;
    rejects.clear();
    before = 0;
    filtered = 0;
    for (ColumnVector column : columns) {
      column.reset(rows);
    }
    for (ColumnVector column : hidden) {
      column.reset(rows);
    }
  }

  void select(int row) {
    selected[count++] = row;
  }

  void countFiltered() {
    filtered++;
  }

  List<ColumnVector> hidden() {
    return hidden;
  }

  /** Numbers the records, once it is known how many came before this batch. */
  public void numberFrom(long recordsBefore) {
    before = recordsBefore;
    rejects.replaceAll(reject -> reject.behind(recordsBefore));
    for (int c = 0; c < numbers.length; c++) {
      if (numbers[c]) {
        LongVector vector = (LongVector) columns.get(c);
        for (int row = 0; row < read; row++) {
          vector.set(row, recordNumber(row));
        }
      }
    }
  }

  /** Takes one of the good rows alone. */
  public void only(int row) {
    selected[0] = row;
    count = 1;
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
    return before + row + 1;
  }

  /** How many records were read for this batch, good or not. */
  public int read() {
    return read;
  }

  /** How many of them are rejects. */
  public int rejected() {
    return rejected;
  }

  /** How many of them the feed's condition leaves out. */
  public int filtered() {
    return filtered;
  }

  /** The rejects that are kept; beyond the feed's cap they are only counted. */
  public List<Reject> rejects() {
    return rejects;
  }
}
