package dev.dusky.core.bind;

import dev.dusky.core.reject.Reject;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.LongVector;
import java.util.ArrayList;
import java.util.List;
import java.util.function.IntPredicate;

/**
 * A run of typed rows, column by column, with the rejects found on the way. Row numbers are those
 * of the record batch; only the selected ones are good. Reused from batch to batch.
 */
public final class RowBatch {

  private final List<ColumnVector> columns;
  private final List<Reject> rejects = new ArrayList<>();
  private int[] selected = new int[0];
  private int[] repeated = new int[0];
  private long[] highs = new long[0];
  private long[] lows = new long[0];
  private int repeats;
  private int count;
  private int read;
  private int rejected;
  private final List<ColumnVector> hidden;
  private final boolean[] numbers;
  private int filtered;
  private final Sightings seen = new Sightings();
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
      highs = new long[selected.length];
      lows = new long[selected.length];
    }
    repeats = 0;
    count = 0;
    read = rows;
    rejected = 0;
    rejects.clear();
    before = 0;
    filtered = 0;
    seen.clear();
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

  void seen(Sightings others) {
    seen.add(others);
  }

  /** The parts of the records without a column. */
  public Sightings seen() {
    return seen;
  }

  List<ColumnVector> hidden() {
    return hidden;
  }

  /**
   * Numbers the records, once it is known how many came before this batch.
   *
   * @param linesBefore how many lines came before those that the batch counts
   */
  public void numberFrom(long recordsBefore, long linesBefore) {
    before = recordsBefore;
    rejects.replaceAll(reject -> reject.behind(recordsBefore, linesBefore));
    for (int c = 0; c < numbers.length; c++) {
      if (numbers[c]) {
        LongVector vector = (LongVector) columns.get(c);
        for (int row = 0; row < read; row++) {
          vector.set(row, recordNumber(row));
        }
      }
    }
  }

  /** Leaves good rows out as repeats; asked for each in the order of the file. */
  public void leaveOut(IntPredicate repeat) {
    int kept = 0;
    repeats = 0;
    if (repeated.length < count) {
      repeated = new int[selected.length];
    }
    for (int i = 0; i < count; i++) {
      int row = selected[i];
      if (repeat.test(row)) {
        repeated[repeats++] = row;
      } else {
        selected[kept++] = row;
      }
    }
    count = kept;
  }

  /** How many rows were left out as repeats. */
  public int repeats() {
    return repeats;
  }

  /** The row number of the i-th row that was left out as a repeat. */
  public int repeated(int i) {
    return repeated[i];
  }

  void setHash(int row, long high, long low) {
    highs[row] = high;
    lows[row] = low;
  }

  /** The first half of the hash of a good row; 0 if it has none. */
  public long hashHigh(int row) {
    return highs[row];
  }

  /** The second half of it. */
  public long hashLow(int row) {
    return lows[row];
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
