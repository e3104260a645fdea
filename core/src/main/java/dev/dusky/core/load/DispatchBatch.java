package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.dispatch.DispatchOrder;
import dev.dusky.core.dispatch.DispatchPart;
import dev.dusky.core.dispatch.DispatchPart.Assigned;
import dev.dusky.core.dispatch.FileReport;
import dev.dusky.core.dispatch.LandedPart;
import dev.dusky.core.feed.TwinPolicy;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.tables.AdoptedRows;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The files of a batch as other machines have attempted them. What depends on other files is known
 * only when all have reported: then the rest of a part is attempted once more without those that
 * are left out.
 */
final class DispatchBatch implements AutoCloseable {

  private final LoadRun run;
  private final DispatchOrder order;
  private final List<LandedPart> landed;
  private final AdoptedRows rows;
  private final DispatchJudge judge;
  private final Map<StagedFile, FileReport> reports = new HashMap<>();

  /**
   * A batch.
   *
   * @param landed the rows of the table among which repeats are looked for
   * @param rows takes the data files
   */
  DispatchBatch(
      LoadRun run,
      DispatchOrder order,
      List<LandedPart> landed,
      AdoptedRows rows,
      DispatchJudge judge) {
    this.run = run;
    this.order = order;
    this.landed = landed;
    this.rows = rows;
    this.judge = judge;
  }

  /** Has the files attempted; false if one of them needs the ledger for it. */
  boolean attempt(List<Assigned> files) {
    return order.hashes().isPresent() ? attemptTogether(files) : attemptApart(files);
  }

  private boolean attemptApart(List<Assigned> files) {
    List<Reported> parts = dispatch(DispatchPart.divide(files));
    boolean done = judge(files);
    List<DispatchPart> without = new ArrayList<>();
    for (Reported part : parts) {
      List<Assigned> others =
          part.files().stream().filter(file -> !judge.leavesOut(file.file())).toList();
      if (others.size() == part.files().size()) {
        rows.adopt(part.written());
      } else {
        rows.drop(part.written());
        without.add(new DispatchPart(others));
      }
    }
    without.removeIf(part -> part.files().isEmpty());
    if (done) {
      dispatch(without).forEach(part -> rows.adopt(part.written()));
    }
    return done && whole(files);
  }

  /**
   * Rows of a file are left out because others have them. If one of those is not posted after all,
   * the rest is attempted once more without it.
   */
  private boolean attemptTogether(List<Assigned> files) {
    List<Assigned> left = files;
    while (!left.isEmpty()) {
      List<Reported> parts = dispatch(DispatchPart.divide(left));
      boolean done = judge(files);
      List<Assigned> posted =
          left.stream()
              .filter(file -> isPosted(file.file()) && !judge.leavesOut(file.file()))
              .toList();
      boolean all = done && posted.size() == left.size();
      for (Reported part : parts) {
        if (all) {
          rows.adopt(part.written());
        } else {
          rows.drop(part.written());
        }
      }
      if (!done) {
        return false;
      }
      left = all ? List.of() : posted;
    }
    return true;
  }

  /** Judges all files; false if they have to be processed one by one. */
  private boolean judge(List<Assigned> files) {
    judge.judge(files, this::outcome);
    boolean twinsMayStay =
        !judge.hasTwins() || run.feed().policies().arrivals().twins() == TwinPolicy.SKIP;
    return twinsMayStay && whole(files);
  }

  /** Whether there is an outcome for each file. */
  private boolean whole(List<Assigned> files) {
    return files.stream().allMatch(file -> outcome(file.file()).isPresent());
  }

  private Optional<FileOutcome> outcome(StagedFile file) {
    return reports.get(file).outcome();
  }

  private boolean isPosted(StagedFile file) {
    return outcome(file).filter(o -> o.state() == FileState.POSTED).isPresent();
  }

  private record Reported(List<Assigned> files, List<FileReport> reports) {

    List<String> written() {
      return reports.stream().flatMap(report -> report.written().stream()).toList();
    }
  }

  private List<Reported> dispatch(List<DispatchPart> parts) {
    if (parts.isEmpty()) {
      return List.of();
    }
    List<List<FileReport>> all =
        run.dispatch().orElseThrow().dispatcher().run(order, landed, parts, run.stopped());
    List<Reported> reported = new ArrayList<>();
    for (int i = 0; i < parts.size(); i++) {
      List<Assigned> files = parts.get(i).files();
      for (int f = 0; f < files.size(); f++) {
        FileReport former = reports.put(files.get(f).file(), all.get(i).get(f));
        if (former != null) {
          former.close();
        }
      }
      reported.add(new Reported(files, all.get(i)));
    }
    return reported;
  }

  /** Enters the outcome of a file. */
  FileResult settle(StagedFile file, FileClaim claim) {
    FileReport report = reports.get(file);
    FileOutcome outcome = judge.outcome(file, report.outcome().orElseThrow(), claim::twinOf);
    if (outcome.state() == FileState.TWIN) {
      try (RejectSpool none = new RejectSpool()) {
        return settle(file, claim, outcome, none);
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

  @Override
  public void close() {
    reports.values().forEach(FileReport::close);
  }
}
