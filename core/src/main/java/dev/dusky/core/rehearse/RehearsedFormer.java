package dev.dusky.core.rehearse;

import dev.dusky.core.table.ProvenanceKey;
import dev.dusky.core.table.TableName;
import dev.dusky.core.tables.FormerRows;
import dev.dusky.core.tables.Transaction;
import java.util.List;
import java.util.Optional;

/** Takes rows out in a transaction that is rolled back, and keeps nothing. */
record RehearsedFormer(Rehearsal rehearsal, FormerRows real) implements FormerRows {

  @Override
  public void prepare(TableName table, long loadId) {
    // Nothing is kept.
  }

  /** A rehearsal makes nobody wait. */
  @Override
  public void hold(Transaction transaction, TableName table) {}

  @Override
  public long takeOut(
      Transaction transaction, TableName table, long loadId, Optional<List<ProvenanceKey>> only) {
    return leaveOut(transaction, table, only);
  }

  /** A table that does not judge rows is not changed. */
  @Override
  public long leaveOut(
      Transaction transaction, TableName table, Optional<List<ProvenanceKey>> only) {
    return rehearsal.judged() ? real.leaveOut(transaction, table, only) : 0;
  }

  @Override
  public long bringBack(Transaction transaction, TableName table, long loadId) {
    throw new IllegalStateException("reversals are not rehearsed");
  }

  @Override
  public void tidy(TableName table) {
    // Nothing was kept.
  }
}
