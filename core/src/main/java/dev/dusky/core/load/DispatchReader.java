package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.dispatch.DispatchOrder;
import dev.dusky.core.dispatch.DispatchPart.Assigned;
import dev.dusky.core.dispatch.FileReport;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.GroupClaim;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.RunningLoad;
import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.tables.AdoptedRows;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.tally.Tally;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/**
 * Claims files, has them attempted on other machines, and enters what those report. All files of a
 * batch are posted in one transaction.
 */
final class DispatchReader {

  private final LoadRun run;
  private final LoadRun.Dispatch dispatch;
  private final LoadStart start;
  private final RunningLoad load;
  private final Tables tables;
  private final GrowingFeed growing;
  private final Function<String, Optional<FileEntry>> posted;

  /**
   * A reader for one load.
   *
   * @param posted the posted file with a fingerprint, if the ledger has one
   */
  DispatchReader(
      LoadRun run,
      LoadStart start,
      RunningLoad load,
      Tables tables,
      GrowingFeed growing,
      Function<String, Optional<FileEntry>> posted) {
    this.run = run;
    this.dispatch = run.dispatch().orElseThrow();
    this.start = start;
    this.load = load;
    this.tables = tables;
    this.growing = growing;
    this.posted = posted;
  }

  /**
   * Reads files; empty if they have to be processed one by one: because another load enters one of
   * them, or because one needs the ledger: the table has to grow first, or it cannot be opened.
   *
   * @param before the tally of the load's files before these; each file is judged by itself here
   */
  Optional<PendingGroup> read(List<KnownFile> files, Tally before) {
    List<StagedFile> staged = files.stream().map(KnownFile::file).toList();
    Optional<GroupClaim> held =
        load.claimTogether(staged, files.stream().map(KnownFile::entry).toList());
    if (held.isEmpty()) {
      return Optional.empty();
    }
    GroupClaim claim = held.get();
    AdoptedRows rows = tables.adopted(claim.transaction(), growing.landing().table().name());
    Optional<List<FileResult>> results = Optional.empty();
    try {
      results = attempt(claim, rows, staged);
    } finally {
      if (results.isEmpty()) {
        claim.close();
        rows.discard();
      }
    }
    return results.map(
        all ->
            new PendingGroup(
                files,
                all,
                claim,
                () -> {
                  rows.send();
                  return true;
                }));
  }

  private Optional<List<FileResult>> attempt(
      GroupClaim group, AdoptedRows rows, List<StagedFile> files) {
    Map<StagedFile, FileClaim> claims = new LinkedHashMap<>();
    for (StagedFile file : files) {
      group.of(file).ifPresent(claim -> claims.put(file, claim));
    }
    claims.keySet().forEach(run.listener()::started);
    List<Assigned> assigned = new ArrayList<>();
    claims.forEach((file, claim) -> assigned.add(new Assigned(file, claim.fileId())));
    DispatchOrder order =
        dispatch.order().in(load.id(), start.at(), growing.allGrown(), rows.table(), run.past());
    if (run.feed().policies().repeats().scope() == RepeatPolicy.Scope.LOAD) {
      order = order.among(assigned.stream().map(Assigned::fileId).toList());
    }
    try (DispatchBatch batch = new DispatchBatch(run, order, rows, posted)) {
      return batch.attempt(assigned)
          ? Optional.of(files.stream().map(file -> settle(file, claims.get(file), batch)).toList())
          : Optional.empty();
    } finally {
      claims.values().forEach(FileClaim::close);
    }
  }

  private static FileResult settle(StagedFile file, FileClaim claim, DispatchBatch batch) {
    if (claim == null) {
      return FileResult.held(file, Duration.ZERO);
    }
    FileReport report = batch.report(file);
    FileOutcome outcome = report.outcome().orElseThrow();
    if (batch.isTwin(file)) {
      FileEntry original =
          batch
              .postedBefore(file)
              .or(() -> outcome.fingerprint().flatMap(claim::twinOf))
              .orElseThrow();
      try (RejectSpool none = new RejectSpool()) {
        return settle(file, claim, outcome.asTwinOf(original), none);
      }
    }
    return settle(file, claim, outcome, report.rejects());
  }

  private static FileResult settle(
      StagedFile file, FileClaim claim, FileOutcome outcome, RejectSpool rejects) {
    claim.settle(outcome, rejects);
    return new FileResult(
        file,
        outcome.state(),
        outcome.tally(),
        outcome.elapsed(),
        outcome.message(),
        rejects.count(),
        outcome.totals(),
        outcome.repeats().seen().orElse(0L),
        outcome.drifts());
  }
}
