package dev.dusky.core.merge;

import dev.dusky.core.table.TableName;

/** Where a merge takes its rows from. */
public sealed interface MergeSource {

  /** A landing table: rows of posted files that this merge has not taken yet. */
  record Landing(TableName table) implements MergeSource {
    @Override
    public String toString() {
      return table.toString();
    }
  }

  /**
   * A SELECT over landing tables. If it gives the provenance columns, only rows not taken yet are
   * taken; without them all of it is, each time.
   */
  record Query(String sql) implements MergeSource {
    @Override
    public String toString() {
      return "query";
    }
  }
}
