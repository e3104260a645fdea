package dev.dusky.core.tables;

import dev.dusky.core.table.ProvenanceKey;
import dev.dusky.core.table.TableName;
import java.util.List;
import java.util.Optional;

/**
 * What landing tables held before a load replaced it. The rows that the last such load of a table
 * took out are kept, so that it can be reversed.
 */
public interface FormerRows {

  /** Makes room for the rows that a load will take out of a table. Called outside transactions. */
  void prepare(TableName table, long loadId);

  /** Makes others wait that write into a table, until the transaction ends; readers do not wait. */
  void hold(Transaction transaction, TableName table);

  /**
   * Takes rows out of a table and keeps them.
   *
   * @param only the postings whose rows are taken out; all rows if empty
   * @return how many rows there were
   */
  long takeOut(
      Transaction transaction, TableName table, long loadId, Optional<List<ProvenanceKey>> only);

  /**
   * Takes rows out of a table without keeping them, in a transaction that is rolled back.
   *
   * @return how many rows there were
   */
  long leaveOut(Transaction transaction, TableName table, Optional<List<ProvenanceKey>> only);

  /**
   * Brings back the rows that a load has taken out.
   *
   * @return how many there were
   */
  long bringBack(Transaction transaction, TableName table, long loadId);

  /** Forgets what is no longer needed once a load has ended. Called outside transactions. */
  void tidy(TableName table);
}
