package dev.dusky.core.ledger;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.reject.StoredReject;
import dev.dusky.core.usage.Usage;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/** A running load. Its entry is locked while its process lives. */
public interface RunningLoad extends AutoCloseable {

  /** The load's number. */
  long id();

  /**
   * Claims a file; empty if another load holds it or has settled it since.
   *
   * @param known what the ledger had of it when it was chosen
   */
  Optional<FileClaim> claim(StagedFile file, Optional<FileEntry> known);

  /**
   * Claims several files at once; empty if this ledger cannot, or not now.
   *
   * @param known what the ledger had of each of them, in the same order
   */
  default Optional<GroupClaim> claimTogether(
      List<StagedFile> files, List<Optional<FileEntry>> known) {
    return Optional.empty();
  }

  /**
   * Claims all files of a load that replaces what is in the table; empty if another load holds one
   * of them.
   *
   * @param known what the ledger had of each of them, in the same order
   */
  Optional<ReplaceClaim> claimReplacing(List<StagedFile> files, List<Optional<FileEntry>> known);

  /** Claims a file, posted or not, to load it again on purpose; empty if another load holds it. */
  Optional<FileClaim> claimAgain(StagedFile file);

  /** Claims those of these rejects of a file that are open. */
  RejectClaim claimRejects(StoredReject any, Collection<Long> rejects);

  /** Enters how the load ended, and what it used. */
  void finish(LoadState state, String message, Usage usage);

  /** Releases the load; one that was not finished counts as interrupted. */
  @Override
  void close();
}
