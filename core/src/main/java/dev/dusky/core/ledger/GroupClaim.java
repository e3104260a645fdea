package dev.dusky.core.ledger;

import dev.dusky.core.depot.StagedFile;
import java.util.Optional;

/**
 * The right to deal with several small files in one transaction, in which the rows, tallies and
 * outcomes of all of them commit together. Closing it without {@link #post} undoes everything.
 */
public interface GroupClaim extends AutoCloseable {

  /** The claim on one of the files, or nothing if another load has it or has dealt with it. */
  Optional<FileClaim> of(StagedFile file);

  /**
   * Commits what was settled.
   *
   * @return false if that cannot be done together, because the table refuses a row or a file is a
   *     twin; nothing was kept then, and the files are dealt with one by one
   */
  boolean post();

  @Override
  void close();
}
