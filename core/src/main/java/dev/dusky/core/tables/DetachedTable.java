package dev.dusky.core.tables;

import dev.dusky.core.feed.Feed;
import java.util.List;

/** A landing table on a machine that has no connection to the ledger. */
public interface DetachedTable {

  /** Starts a change of rows that another process commits. */
  DetachedChange change(Feed feed, long loadId);

  /** Gives the values of these columns of some rows that the table has. */
  void landed(LandedPiece piece, Feed feed, List<String> columns, LandedRows taker);
}
