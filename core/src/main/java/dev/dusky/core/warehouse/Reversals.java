package dev.dusky.core.warehouse;

import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.MergedRows;
import dev.dusky.core.ledger.Reversed;
import dev.dusky.core.table.TableName;
import java.util.function.Consumer;

/** Undoes posted loads and files exactly, each in one transaction. */
public interface Reversals {

  /**
   * Undoes what a load posted, with all that was mended of its files since.
   *
   * @param mend whether the load is one that mended
   */
  Reversed load(LoadStart start, TableName table, long id, boolean mend, String why);

  /** Undoes what is posted of a file of the feed. */
  Reversed file(LoadStart start, TableName table, String path, String why);

  /** The same also where rows are merged already; the taker receives those. */
  Reversals evenMerged(Consumer<MergedRows> taker);
}
