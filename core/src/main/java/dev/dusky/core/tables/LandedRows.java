package dev.dusky.core.tables;

import dev.dusky.core.vector.ColumnVector;
import java.util.List;

/** Takes rows that are in a landing table already. */
@FunctionalInterface
public interface LandedRows {

  /**
   * One row.
   *
   * @param fileId the ledger's file entry that it came from
   * @param record its record's number
   * @param columns the columns that were asked for, in that order
   * @param row the row in them
   */
  void take(long fileId, long record, List<ColumnVector> columns, int row);
}
