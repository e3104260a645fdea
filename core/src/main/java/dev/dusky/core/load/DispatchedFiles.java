package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.dispatch.DispatchOrder;
import dev.dusky.core.dispatch.DispatchPart.Assigned;
import dev.dusky.core.dispatch.LandedPart;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.tables.AdoptedRows;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.tables.Transaction;
import dev.dusky.core.tally.Tally;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/** Has files whose claims are held attempted on other machines, and enters what those report. */
final class DispatchedFiles {

  private final LoadRun run;
  private final LoadRun.Dispatch dispatch;
  private final LoadStart start;
  private final long loadId;
  private final Tables tables;
  private final GrowingFeed growing;
  private final Function<StagedFile, String> among;
  private final Function<String, Optional<FileEntry>> posted;

  /**
   * What was attempted. Its rows are to be sent or discarded.
   *
   * @param rows the rows of the files
   * @param results the files' results, which are entered
   */
  record Attempted(AdoptedRows rows, List<FileResult> results) {}

  /**
   * For one load.
   *
   * @param among names the files among which a file may have a twin
   * @param posted the posted file with a fingerprint, if the ledger has one that counts
   */
  DispatchedFiles(
      LoadRun run,
      LoadStart start,
      long loadId,
      Tables tables,
      GrowingFeed growing,
      Function<StagedFile, String> among,
      Function<String, Optional<FileEntry>> posted) {
    this.run = run;
    this.dispatch = run.dispatch().orElseThrow();
    this.start = start;
    this.loadId = loadId;
    this.tables = tables;
    this.growing = growing;
    this.among = among;
    this.posted = posted;
  }

  /**
   * Attempts files; empty if they have to be processed one by one, as one of them needs the ledger:
   * the table has to grow first, or it cannot be opened.
   *
   * @param claims the claim on each file, or none if another load has it
   * @param before the tally of the load's files before these
   */
  Optional<Attempted> attempt(
      Transaction transaction,
      List<StagedFile> files,
      Function<StagedFile, Optional<FileClaim>> claims,
      Tally before) {
    AdoptedRows rows = tables.adopted(transaction, growing.landing().table().name());
    Optional<Attempted> done = Optional.empty();
    try {
      done = attempt(rows, files, claims, before).map(results -> new Attempted(rows, results));
    } finally {
      if (done.isEmpty()) {
        rows.discard();
      }
    }
    return done;
  }

  private Optional<List<FileResult>> attempt(
      AdoptedRows rows,
      List<StagedFile> files,
      Function<StagedFile, Optional<FileClaim>> claims,
      Tally before) {
    Map<StagedFile, FileClaim> held = new LinkedHashMap<>();
    for (StagedFile file : files) {
      claims.apply(file).ifPresent(claim -> held.put(file, claim));
    }
    held.keySet().forEach(run.listener()::started);
    List<Assigned> assigned = new ArrayList<>();
    held.forEach((file, claim) -> assigned.add(new Assigned(file, claim.fileId())));
    List<LandedPart> landed = landed(rows);
    DispatchOrder order =
        dispatch.order().in(loadId, start.at(), growing.allGrown(), rows.table(), run.past());
    if (run.feed().policies().repeats().scope() != RepeatPolicy.Scope.FILE) {
      order = order.amongFiles();
    }
    DispatchJudge judge = new DispatchJudge(run.feed(), before, among, posted);
    try (DispatchBatch batch = new DispatchBatch(run, order, landed, rows, judge)) {
      return batch.attempt(assigned)
          ? Optional.of(
              files.stream()
                  .map(
                      file ->
                          held.containsKey(file)
                              ? batch.settle(file, held.get(file))
                              : FileResult.held(file, Duration.ZERO))
                  .toList())
          : Optional.empty();
    } finally {
      held.values().forEach(FileClaim::close);
    }
  }

  private List<LandedPart> landed(AdoptedRows rows) {
    if (run.feed().policies().repeats().scope() != RepeatPolicy.Scope.TABLE) {
      return List.of();
    }
    rows.hold();
    return rows.landed().stream().map(LandedPart::new).toList();
  }
}
