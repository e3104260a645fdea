package dev.dusky.core.load;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.GroupClaim;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.RunningLoad;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.tables.GroupChange;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.tally.Tally;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Claims and reads small files that are to be posted together. */
final class GroupReader {

  private final LoadRun run;
  private final LoadStart start;
  private final RunningLoad load;
  private final Tables tables;
  private final GrowingFeed growing;
  private final LoadRepeats repeats;
  private final RecordBatch batch = SmallFiles.batch();

  GroupReader(
      LoadRun run,
      LoadStart start,
      RunningLoad load,
      Tables tables,
      GrowingFeed growing,
      LoadRepeats repeats) {
    this.run = run;
    this.start = start;
    this.load = load;
    this.tables = tables;
    this.growing = growing;
    this.repeats = repeats;
  }

  /**
   * Reads files; empty if they cannot be processed together.
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
    GroupChange change = tables.changes(claim.transaction(), growing.landing(), load.id());
    Optional<List<FileResult>> results = Optional.empty();
    try {
      results = read(claim, change, staged, before);
    } catch (Failure failure) {
      if (failure.kind() != Failure.Kind.DEPOT) {
        throw failure;
      }
      // It occurs again when the files are processed one by one, and is reported there.
    } finally {
      if (results.isEmpty()) {
        claim.close();
      }
    }
    return results.map(all -> new PendingGroup(files, all, claim, change::send));
  }

  private Optional<List<FileResult>> read(
      GroupClaim claim, GroupChange change, List<StagedFile> files, Tally before) {
    List<FileResult> results = new ArrayList<>();
    Tally sum = before;
    try (PrefetchedFiles fetched = new PrefetchedFiles(run.depot(), files)) {
      for (StagedFile file : files) {
        Optional<FileResult> result = read(claim, change, fetched, file, sum);
        if (result.isEmpty()) {
          return Optional.empty();
        }
        results.add(result.get());
        boolean refused = result.get().state() == FileState.REFUSED;
        sum = refused ? sum : sum.plus(result.get().tally());
      }
    }
    return Optional.of(results);
  }

  /** Empty if the file needs an attempt in a separate transaction. */
  private Optional<FileResult> read(
      GroupClaim group, GroupChange change, Depot fetched, StagedFile file, Tally before) {
    Optional<FileClaim> held = group.of(file);
    if (held.isEmpty()) {
      return Optional.of(FileResult.held(file, Duration.ZERO));
    }
    try (FileClaim claim = held.get()) {
      run.listener().started(file);
      FileTask task =
          new FileTask(
              run.withFeed(growing.feed()).withDepot(fetched),
              file,
              FileFacts.of(run.feed().files(), file, load.id(), start.at()),
              new FilePosting(claim, change.of(claim.fileId()), (loadId, fileId) -> 0),
              false,
              before,
              ConcurrentFiles.none(repeats),
              Optional.of(batch));
      FileDrift drift = new FileDrift(growing.feed(), growing.grown(), file, Optional.empty());
      AttemptOutcome outcome = new FileAttempt(task, drift, new long[0]).run();
      return outcome instanceof AttemptOutcome.Done done
          ? Optional.of(done.result())
          : Optional.empty();
    }
  }
}
