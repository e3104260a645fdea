package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.ledger.GroupClaim;
import dev.dusky.core.ledger.RunningLoad;
import dev.dusky.core.tally.Tally;
import java.util.List;
import java.util.Optional;

/** Claims files that other machines attempt. All files of a batch are posted in one transaction. */
final class DispatchReader {

  private final RunningLoad load;
  private final DispatchedFiles dispatched;

  /** A reader for one load. */
  DispatchReader(RunningLoad load, DispatchedFiles dispatched) {
    this.load = load;
    this.dispatched = dispatched;
  }

  /**
   * Reads files; empty if they have to be processed one by one: because another load enters one of
   * them, or because one needs the ledger.
   *
   * @param before the tally of the load's files before these
   */
  Optional<PendingGroup> read(List<KnownFile> files, Tally before) {
    List<StagedFile> staged = files.stream().map(KnownFile::file).toList();
    Optional<GroupClaim> held =
        load.claimTogether(staged, files.stream().map(KnownFile::entry).toList());
    if (held.isEmpty()) {
      return Optional.empty();
    }
    GroupClaim claim = held.get();
    Optional<DispatchedFiles.Attempted> done = Optional.empty();
    try {
      done = dispatched.attempt(claim.transaction(), staged, claim::of, before);
    } finally {
      if (done.isEmpty()) {
        claim.close();
      }
    }
    return done.map(
        attempted ->
            new PendingGroup(
                files,
                attempted.results(),
                claim,
                () -> {
                  attempted.rows().send();
                  return true;
                }));
  }
}
