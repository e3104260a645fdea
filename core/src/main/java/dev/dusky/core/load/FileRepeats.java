package dev.dusky.core.load;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.repeat.HashSpool;
import dev.dusky.core.repeat.Place;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.repeat.RepeatPolicy.Keep;
import dev.dusky.core.repeat.RepeatRuns;
import dev.dusky.core.repeat.RowHashTable;
import dev.dusky.core.repeat.Verdicts;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import java.util.Arrays;
import java.util.List;

/**
 * Detects the repeats among the rows of a file. Where the first row stays and memory is enough, as
 * they go by; else in a survey that reads the file once before it is written. Repeats that are only
 * counted need no survey.
 */
final class FileRepeats implements AutoCloseable {

  private static final long[] NO_MARKS = new long[0];

  private final LoadRepeats load;
  private final RepeatPolicy policy;
  private final int turn;
  private final RowHashTable table;
  private final RepeatRuns runs = new RepeatRuns();
  private final int[] by;
  private final long[] marks;
  private final long[] refused;
  private HashSpool spool;
  private Verdicts verdicts;
  private long count;
  private boolean full;

  /**
   * The repeats of one file.
   *
   * @param refused records that the table has refused before, ascending; none is kept instead of
   *     repeats
   * @param verdicts what is found already, or null
   */
  FileRepeats(LoadRepeats load, int turn, long[] refused, Verdicts verdicts) {
    this.verdicts = verdicts;
    this.load = load;
    this.refused = refused;
    this.policy = load.policy();
    this.turn = turn;
    this.table = load.table();
    this.by =
        policy.by().stream()
            .mapToInt(name -> load.feed().columns().indexOf(load.feed().column(name).orElseThrow()))
            .toArray();
    this.marks = new long[by.length];
  }

  /** Whether the file must be read once before its rows are written. */
  boolean surveys() {
    return policy.remove() && verdicts == null && (policy.keep() != Keep.FIRST || load.surveyAll());
  }

  /** Takes a batch of the survey. */
  void survey(RowBatch batch) {
    if (spool == null) {
      spool = new HashSpool(by.length);
    }
    for (int i = 0; i < batch.count(); i++) {
      int row = batch.selected(i);
      long high = batch.hashHigh(row);
      if (high != 0 && !isRefused(batch.recordNumber(row))) {
        for (int m = 0; m < by.length; m++) {
          marks[m] = mark(batch.columns().get(by[m]), row);
        }
        spool.add(high, batch.hashLow(row), Place.of(turn, batch.recordNumber(row)), marks);
      }
    }
  }

  /** Hands the survey over to a search among the rows of many files. */
  void surveyed(HashSpool.Reader taker) {
    if (spool != null) {
      spool.forEach(taker);
      spool.close();
      spool = null;
    }
  }

  /** A value as a number that is greater the later the value; none is the least. */
  private static long mark(ColumnVector vector, int row) {
    if (vector.isNull(row)) {
      return Long.MIN_VALUE;
    }
    if (vector instanceof LongVector longs) {
      return longs.get(row);
    }
    if (vector instanceof DecimalVector decimals) {
      return decimals.get(row).unscaledValue().longValueExact();
    }
    long bits = Double.doubleToLongBits(((DoubleVector) vector).get(row));
    return bits < 0 ? ~bits ^ Long.MIN_VALUE : bits;
  }

  /** The survey is complete. */
  void surveyed() {
    verdicts = new Verdicts();
    if (spool != null) {
      spool.resolve(
          load.known(),
          policy.keep(),
          load.dead(),
          (place, kept) -> verdicts.leave(Place.record(place), kept));
      spool.close();
      spool = null;
    }
  }

  /**
   * Takes the repeats out of a batch, or counts them.
   *
   * @return false if memory is full and the file has to be surveyed first
   */
  boolean filter(RowBatch batch) {
    if (policy.unseen()) {
      return true;
    }
    if (!policy.remove()) {
      count(batch);
    } else if (verdicts != null) {
      batch.leaveOut(row -> leftBySurvey(batch, row));
    } else {
      batch.leaveOut(row -> left(batch, row));
      if (full) {
        forget();
      }
    }
    return !full;
  }

  private boolean leftBySurvey(RowBatch batch, int row) {
    long record = batch.recordNumber(row);
    if (isRefused(record)) {
      return false;
    }
    long kept = verdicts.of(record);
    if (kept == 0) {
      if (load.known() != null && batch.hashHigh(row) != 0) {
        load.known().add(batch.hashHigh(row), batch.hashLow(row), Place.of(turn, record), NO_MARKS);
      }
      return false;
    }
    leave(record, kept);
    return true;
  }

  private boolean left(RowBatch batch, int row) {
    long high = batch.hashHigh(row);
    if (full || high == 0 || isRefused(batch.recordNumber(row))) {
      return false;
    }
    long low = batch.hashLow(row);
    long place = Place.of(turn, batch.recordNumber(row));
    int slot = table.slot(high, low);
    if (!table.taken(slot)) {
      full |= !table.put(slot, high, low, place);
      return false;
    }
    if (load.isDead(table.place(slot))) {
      table.replace(slot, place);
      return false;
    }
    leave(batch.recordNumber(row), table.place(slot));
    return true;
  }

  private void leave(long record, long kept) {
    count++;
    runs.add(record, kept);
  }

  private void count(RowBatch batch) {
    for (int i = 0; i < batch.count(); i++) {
      int row = batch.selected(i);
      long high = batch.hashHigh(row);
      long low = batch.hashLow(row);
      if (spool != null) {
        spool.add(high, low, 1, NO_MARKS);
        continue;
      }
      int slot = table.slot(high, low);
      if (table.taken(slot)) {
        count++;
      } else if (!table.put(slot, high, low, 1)) {
        spool = new HashSpool(0);
        table.forEach((h, l, p) -> spool.add(h, l, p, NO_MARKS));
        spool.add(high, low, 1, NO_MARKS);
      }
    }
  }

  private boolean isRefused(long record) {
    return refused.length > 0 && Arrays.binarySearch(refused, record) >= 0;
  }

  /**
   * Learns which rows the table has refused. They are not there, so no other row repeats them.
   *
   * @return false if rows of this file were left out for them, so that it has to be tried again
   */
  boolean refused(long[] records) {
    if (records.length == 0 || !policy.remove()) {
      return true;
    }
    boolean[] missed = {policy.scope() != RepeatPolicy.Scope.FILE && verdicts != null};
    runs.forEach(
        (first, length, keptFile, keptRecord) -> {
          int at = Arrays.binarySearch(records, keptRecord);
          int next = at >= 0 ? at : -at - 1;
          missed[0] |=
              keptFile == turn && next < records.length && records[next] < keptRecord + length;
        });
    missed[0] &= !Arrays.equals(records, refused);
    if (missed[0]) {
      forget();
      return false;
    }
    if (policy.scope() != RepeatPolicy.Scope.FILE && table != null) {
      load.forget(turn, records);
    }
    return true;
  }

  /** How many rows were left out, or seen to be exact repeats. Complete at the end of the file. */
  long count() {
    if (spool != null) {
      count += spool.resolve(null, Keep.FIRST, load.dead(), (place, kept) -> {});
      spool.close();
      spool = null;
    }
    return count;
  }

  /** Which records were left out, and for which. */
  RepeatRuns runs() {
    return runs;
  }

  /** The ledger's number of the file that a run speaks of. */
  List<Long> fileIds() {
    return load.fileIds();
  }

  /** The file was not posted: other rows are not its own repeats. */
  void forget() {
    load.forget(turn);
  }

  @Override
  public void close() {
    runs.close();
    if (spool != null) {
      spool.close();
    }
    if (verdicts != null) {
      verdicts.close();
    }
  }
}
