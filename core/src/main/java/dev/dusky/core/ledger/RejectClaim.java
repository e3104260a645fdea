package dev.dusky.core.ledger;

import dev.dusky.core.tables.Transaction;
import java.util.Set;

/**
 * The right to settle some open rejects of one file. It carries the transaction in which the
 * repaired rows and the rejects' new state commit together. Closing it without {@link #settle}
 * undoes everything.
 */
public interface RejectClaim extends AutoCloseable {

  /** The rejects asked for that are open and now held. */
  Set<Long> held();

  /** The transaction for the repaired rows. */
  Transaction transaction();

  /** Writes the outcome into the ledger and commits, rows included. */
  void settle(MendOutcome outcome);

  @Override
  void close();
}
