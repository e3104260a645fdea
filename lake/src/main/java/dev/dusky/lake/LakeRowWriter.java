package dev.dusky.lake;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.tables.Landing;
import dev.dusky.core.tables.Refusals;
import dev.dusky.core.tables.RowWriter;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.lake.write.DataFiles;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Writes a file's rows into new data files. Such tables have one rule, not null; rows that break it
 * are refused.
 */
final class LakeRowWriter implements RowWriter {

  private final Feed feed;
  private final LakeFailures failures;
  private final Optional<DataFiles> files;
  private final long load;
  private final long file;
  private final List<Integer> required = new ArrayList<>();
  private final Refusals refusals;
  private int[] rows = new int[0];
  private long written;

  /**
   * A writer.
   *
   * @param files receives the rows; empty in a rehearsal, which counts and refuses only
   */
  LakeRowWriter(
      Landing landing, LakeFailures failures, Optional<DataFiles> files, long load, long file) {
    this.feed = landing.feed();
    this.failures = failures;
    this.files = files;
    this.load = load;
    this.file = file;
    this.refusals = new Refusals(feed.rejectCap());
    for (int i = 0; i < feed.columns().size(); i++) {
      FeedColumn column = feed.columns().get(i);
      boolean needed = landing.table().column(column.name()).orElseThrow().notNull();
      if (needed && !column.notNull()) {
        required.add(i);
      }
    }
  }

  @Override
  public void write(RowBatch batch) {
    failures.run(
        "Writing into " + feed.into(),
        () -> {
          rows = rows.length < batch.count() ? new int[batch.count()] : rows;
          int count = 0;
          for (int i = 0; i < batch.count(); i++) {
            int row = batch.selected(i);
            if (required.isEmpty() || holds(batch, row)) {
              rows[count++] = row;
            }
          }
          if (files.isPresent() && count > 0) {
            files.get().write(batch, rows, count, load, file);
          }
          written += count;
          return null;
        });
  }

  private boolean holds(RowBatch batch, int row) {
    List<Problem> problems = new ArrayList<>();
    for (int column : required) {
      if (batch.columns().get(column).isNull(row)) {
        problems.add(
            new Problem(
                RejectCode.NULL_VALUE,
                feed.columns().get(column).name(),
                "",
                "no value, but the table's column is not null"));
      }
    }
    if (!problems.isEmpty()) {
      refusals.add(batch.recordNumber(row), problems);
      for (String total : feed.policies().expectations().totals()) {
        int column = feed.columns().indexOf(feed.column(total).orElseThrow());
        value(batch.columns().get(column), row).ifPresent(v -> refusals.addTotal(total, v));
      }
    }
    return problems.isEmpty();
  }

  private static Optional<BigDecimal> value(ColumnVector vector, int row) {
    if (vector.isNull(row)) {
      return Optional.empty();
    }
    return Optional.of(
        vector instanceof LongVector longs
            ? BigDecimal.valueOf(longs.get(row))
            : ((DecimalVector) vector).get(row));
  }

  @Override
  public long finish() {
    return written;
  }

  @Override
  public Refusals refusals() {
    return refusals;
  }

  /** The files stay until they are posted or undone. */
  @Override
  public void close() {}
}
