package dev.dusky.core.ledger;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.drift.Growth;
import dev.dusky.core.reject.StoredReject;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/** A load at work. Its row is locked in the warehouse while its process lives. */
public interface RunningLoad extends AutoCloseable {

  /** The load's number. */
  long id();

  /**
   * Takes hold of a file, or gives nothing if another load holds it or has dealt with it since.
   *
   * @param known what the ledger had of it when it was chosen
   */
  Optional<FileClaim> claim(StagedFile file, Optional<FileEntry> known);

  /** How many files may be claimed and written at the same time. */
  default int atOnce() {
    return 1;
  }

  /**
   * Takes hold of several files at once; gives nothing if these books cannot, or not now.
   *
   * @param known what the ledger had of each of them, in the same order
   */
  default Optional<GroupClaim> claimTogether(
      List<StagedFile> files, List<Optional<FileEntry>> known) {
    return Optional.empty();
  }

  /**
   * Takes hold of a file although it may be posted, to load it again on purpose; gives nothing if
   * another load holds it.
   */
  Optional<FileClaim> claimAgain(StagedFile file);

  /**
   * Makes the landing table grow for a file whose claim is held and has written nothing; files that
   * are claimed later know of it.
   *
   * @throws dev.dusky.core.failure.Failure of kind FILE if the table cannot grow that way
   */
  Growth.Result grow(FileClaim claim, Growth growth);

  /** Takes hold of those of these rejects of a file that are open. */
  RejectClaim claimRejects(StoredReject any, Collection<Long> rejects);

  /** Writes down how the load ended. */
  void finish(LoadState state, String message);

  /** Lets go of the load; one that was not finished counts as interrupted. */
  @Override
  void close();
}
