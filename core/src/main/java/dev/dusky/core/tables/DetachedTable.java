package dev.dusky.core.tables;

import dev.dusky.core.feed.Feed;

/** A landing table on a machine that has no connection to the ledger. */
public interface DetachedTable {

  /** Starts a change of rows that another process commits. */
  DetachedChange change(Feed feed, long loadId);
}
