package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.dispatch.DispatchOrder;
import dev.dusky.core.dispatch.DispatchPart;
import dev.dusky.core.dispatch.DispatchPart.Assigned;
import dev.dusky.core.dispatch.FileReport;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.GroupClaim;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.RunningLoad;
import dev.dusky.core.tables.AdoptedRows;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.tally.Tally;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

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

  DispatchReader(
      LoadRun run, LoadStart start, RunningLoad load, Tables tables, GrowingFeed growing) {
    this.run = run;
    this.dispatch = run.dispatch().orElseThrow();
    this.start = start;
    this.load = load;
    this.tables = tables;
    this.growing = growing;
  }

  /**
   * Reads files; empty if they have to be processed one by one: because another load enters one of
   * them, because the table has to grow first, or because one is a twin of another.
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
    DispatchOrder order =
        dispatch.order().in(load.id(), start.at(), growing.allGrown(), rows.table());
    List<Assigned> assigned = new ArrayList<>();
    claims.forEach((file, claim) -> assigned.add(new Assigned(file, claim.fileId())));
    List<FileReport> reports =
        dispatch.dispatcher().run(order, DispatchPart.divide(assigned)).stream()
            .flatMap(List::stream)
            .toList();
    try {
      reports.forEach(report -> rows.adopt(report.written()));
      return settle(files, claims, reports.iterator());
    } finally {
      reports.forEach(FileReport::close);
      claims.values().forEach(FileClaim::close);
    }
  }

  private Optional<List<FileResult>> settle(
      List<StagedFile> files, Map<StagedFile, FileClaim> claims, Iterator<FileReport> reports) {
    List<FileResult> results = new ArrayList<>();
    for (StagedFile file : files) {
      FileClaim claim = claims.get(file);
      if (claim == null) {
        results.add(FileResult.held(file, Duration.ZERO));
        continue;
      }
      FileReport report = reports.next();
      if (report.outcome().isEmpty() || twin(claim, report.outcome().get())) {
        return Optional.empty();
      }
      FileOutcome outcome = report.outcome().get();
      claim.settle(outcome, report.rejects());
      results.add(
          new FileResult(
              file,
              outcome.state(),
              outcome.tally(),
              outcome.elapsed(),
              outcome.message(),
              report.rejects().count(),
              outcome.totals(),
              outcome.repeats().seen().orElse(0L),
              outcome.drifts()));
    }
    return Optional.of(results);
  }

  private static boolean twin(FileClaim claim, FileOutcome outcome) {
    return outcome.state() == FileState.POSTED
        && outcome.fingerprint().flatMap(claim::twinOf).isPresent();
  }
}
