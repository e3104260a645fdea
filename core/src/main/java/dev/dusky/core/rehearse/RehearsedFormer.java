package dev.dusky.core.rehearse;

import dev.dusky.core.ledger.PostedRows;
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
      Transaction transaction, TableName table, long loadId, Optional<List<PostedRows>> only) {
    return leaveOut(transaction, table, only);
  }

  /** What a table that cannot be changed would lose is what the ledger says. */
  @Override
  public long leaveOut(Transaction transaction, TableName table, Optional<List<PostedRows>> only) {
    return rehearsal.judged()
        ? real.leaveOut(transaction, table, only)
        : only.orElse(List.of()).stream().mapToLong(PostedRows::loaded).sum();
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
