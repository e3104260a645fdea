package dev.dusky.core.ledger;

import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.tables.Transaction;
import java.util.Optional;

/**
 * The right to process one file, held for as long as the claim is open. It carries the transaction
 * in which the file's rows and its ledger entry commit together. Closing it without {@link #settle}
 * undoes everything.
 */
public interface FileClaim extends AutoCloseable {

  /** The file's number in the ledger. */
  long fileId();

  /** The transaction for the file's rows. */
  Transaction transaction();

  /**
   * Reverses what is in force of this file's path, for a file that is loaded again on purpose or
   * replaced by its revised content. Does nothing if nothing is in force.
   *
   * @param why the reason that is entered
   * @param removal deletes the rows, in this claim's transaction
   */
  void withdraw(String why, RowRemoval removal);

  /**
   * A text that changes whenever another load has changed the landing table. The caller holds the
   * table.
   */
  String landedMark();

  /** A posted file of the same feed with this content. */
  Optional<FileEntry> twinOf(String fingerprint);

  /**
   * Undoes what was written in the transaction but keeps the claim, so that the file can be tried
   * again or its refusal recorded.
   *
   * @return false if another load has settled the file meanwhile
   */
  boolean renew();

  /**
   * Writes outcome and rejects into the ledger and commits, rows included.
   *
   * @throws IllegalStateException if the file may not take that state
   */
  void settle(FileOutcome outcome, RejectSpool rejects);

  /** Rolls back what was not settled and releases the file. */
  @Override
  void close();
}
