package dev.dusky.core.rehearse;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.tables.Refusals;
import dev.dusky.core.tables.RowWriter;

/** Counts rows that no table judges. */
final class CountingWriter implements RowWriter {

  private final Refusals none = new Refusals(0);
  private long rows;

  @Override
  public void write(RowBatch batch) {
    rows += batch.count();
  }

  @Override
  public long finish() {
    return rows;
  }

  @Override
  public Refusals refusals() {
    return none;
  }

  @Override
  public void close() {
    // It holds nothing.
  }
}
