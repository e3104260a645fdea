package dev.dusky.warehouses;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.tables.Refusals;
import dev.dusky.core.tables.RowWriter;

/** Takes rows for a table that does not exist yet, and so has no rule to refuse any. */
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
    // There is nothing to let go of.
  }
}
