package dev.dusky.core.ledger;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.tables.Transaction;
import java.util.Optional;

/**
 * The right to process several small files in one transaction, in which the rows, tallies and
 * outcomes of all of them commit together. Closing it without {@link #post} undoes everything.
 */
public interface GroupClaim extends AutoCloseable {

  /** The transaction for the files' rows. */
  Transaction transaction();

  /** The claim on one of the files, or nothing if another load holds or has settled it. */
  Optional<FileClaim> of(StagedFile file);

  /**
   * Commits what was settled. The files' rows are written before.
   *
   * @return false if that is impossible together, for example because a file is a twin; nothing was
   *     kept then, and the files are processed one by one
   */
  boolean post();

  @Override
  void close();
}
