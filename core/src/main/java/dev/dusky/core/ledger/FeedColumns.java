package dev.dusky.core.ledger;

import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.tables.Transaction;
import java.util.List;

/** Adds columns to a feed while other processes may do the same. */
public interface FeedColumns {

  /** The transaction in which table and entries change together. */
  Transaction transaction();

  /** The columns so far. */
  List<GrownColumn> known();

  /** Enters a column; it replaces an earlier entry of the same name. */
  void note(GrownColumn column, long loadId);
}
