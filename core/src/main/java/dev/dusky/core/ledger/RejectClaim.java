package dev.dusky.core.ledger;

import dev.dusky.core.tables.RowWriter;
import java.util.Set;

/**
 * The right to settle some open rejects of one file, held as row locks. It carries the one
 * transaction in which the repaired rows and the rejects' new state commit together. Closing it
 * without {@link #settle} undoes everything.
 */
public interface RejectClaim extends AutoCloseable {

  /** Those of the rejects asked for that are open and now held. */
  Set<Long> held();

  /** Starts writing rows into the landing table, as rows of the rejects' file. */
  RowWriter writer();

  /** Writes the outcome into the ledger and commits, rows included. */
  void settle(MendOutcome outcome);

  @Override
  void close();
}
