package dev.dusky.core.rehearse;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.tables.DetachedChange;
import dev.dusky.core.tables.DetachedTable;
import dev.dusky.core.tables.LandedPiece;
import dev.dusky.core.tables.LandedRows;
import dev.dusky.core.tables.LandingChange;
import dev.dusky.core.tables.RowWriter;
import java.util.List;

/** In place of a landing table that cannot judge rows, on a machine that has no ledger. */
public final class CountingTable implements DetachedTable {

  /** How such a table is described. */
  public static final String DESCRIPTION = "";

  @Override
  public DetachedChange change(Feed feed, long loadId) {
    return new Change();
  }

  @Override
  public void landed(LandedPiece piece, Feed feed, List<String> columns, LandedRows taker) {
    throw new IllegalStateException("a table that is missing has no rows");
  }

  private static final class Change implements DetachedChange, LandingChange {

    @Override
    public LandingChange of(long fileId) {
      return this;
    }

    @Override
    public RowWriter writer() {
      return new CountingWriter();
    }

    @Override
    public boolean whole() {
      return true;
    }

    @Override
    public List<String> finish() {
      return List.of();
    }

    @Override
    public void discard() {
      // Nothing is written.
    }

    @Override
    public void undo() {
      // Nothing is written.
    }

    @Override
    public void hold() {
      throw new IllegalStateException("repeats across files are detected where the ledger is");
    }

    @Override
    public void rows(List<String> columns, LandedRows taker) {
      throw new IllegalStateException("repeats across files are detected where the ledger is");
    }
  }
}
