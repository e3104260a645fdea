package dev.dusky.core.load;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.expect.ControlFigures;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.tables.Refusals;
import dev.dusky.core.tally.ControlTotal;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.LongVector;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Adds up the columns of a file whose sums are kept. Exact, whatever their size. Hot. */
public final class ColumnTotals {

  /** Below this a value can be added without a thought of overflow. */
  private static final long SAFE = 1L << 61;

  /** A sum of unscaled values. */
  private static final class Sum {
    private BigInteger large = BigInteger.ZERO;
    private long small;

    void add(long value) {
      if (value > SAFE || value < -SAFE) {
        large = large.add(BigInteger.valueOf(value));
        return;
      }
      small += value;
      if (small > SAFE || small < -SAFE) {
        large = large.add(BigInteger.valueOf(small));
        small = 0;
      }
    }

    void add(BigInteger value) {
      large = large.add(value);
    }

    BigInteger value() {
      return large.add(BigInteger.valueOf(small));
    }
  }

  private final List<String> names;
  private final int[] columns;
  private final int[] scales;
  private final Sum[] good;
  private final Sum[] others;
  private final Sum[] repeats;

  /** Sums for the columns that the feed names. */
  public ColumnTotals(Feed feed) {
    names = feed.policies().expectations().totals();
    columns = new int[names.size()];
    scales = new int[names.size()];
    good = new Sum[names.size()];
    others = new Sum[names.size()];
    repeats = new Sum[names.size()];
    for (int i = 0; i < columns.length; i++) {
      columns[i] = feed.columns().indexOf(feed.column(names.get(i)).orElseThrow());
      good[i] = new Sum();
      others[i] = new Sum();
      repeats[i] = new Sum();
    }
  }

  /** Adds the rows of a batch, good or not. */
  public void add(RowBatch batch) {
    addGood(batch);
    for (int i = 0; i < columns.length; i++) {
      ColumnVector vector = batch.columns().get(columns[i]);
      int next = 0;
      int repeat = 0;
      for (int row = 0; row < batch.read(); row++) {
        if (next < batch.count() && batch.selected(next) == row) {
          next++;
        } else if (repeat < batch.repeats() && batch.repeated(repeat) == row) {
          add(repeats[i], vector, row);
          repeat++;
        } else {
          add(others[i], vector, row);
        }
      }
    }
  }

  /** Adds the good rows of a batch. */
  public void addGood(RowBatch batch) {
    for (int i = 0; i < columns.length; i++) {
      ColumnVector vector = batch.columns().get(columns[i]);
      if (vector instanceof DecimalVector decimals) {
        scales[i] = decimals.scale();
      }
      for (int g = 0; g < batch.count(); g++) {
        add(good[i], vector, batch.selected(g));
      }
    }
  }

  private static void add(Sum sum, ColumnVector vector, int row) {
    if (vector.isNull(row)) {
      return;
    }
    if (vector instanceof LongVector longs) {
      sum.add(longs.get(row));
    } else {
      DecimalVector decimals = (DecimalVector) vector;
      if (decimals.isWide(row)) {
        sum.add(decimals.get(row).unscaledValue());
      } else {
        sum.add(decimals.unscaled(row));
      }
    }
  }

  /** The sums, the rows that the table refused no longer among the good ones. */
  public List<ControlTotal> totals(Refusals refusals, List<ControlFigures> stated) {
    List<ControlTotal> totals = new ArrayList<>();
    for (int i = 0; i < columns.length; i++) {
      String name = names.get(i);
      BigDecimal refused = refusals.total(name).setScale(scales[i]);
      BigDecimal loaded = new BigDecimal(good[i].value(), scales[i]).subtract(refused);
      BigDecimal rest = new BigDecimal(others[i].value(), scales[i]).add(refused);
      Optional<BigDecimal> expected =
          stated.stream()
              .filter(figures -> figures.totals().containsKey(name))
              .map(figures -> figures.totals().get(name))
              .findFirst();
      totals.add(
          new ControlTotal(
              name, loaded, rest, new BigDecimal(repeats[i].value(), scales[i]), expected));
    }
    return totals;
  }
}
