package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.dispatch.DispatchOrder;
import dev.dusky.core.dispatch.DispatchPart;
import dev.dusky.core.dispatch.DispatchPart.Assigned;
import dev.dusky.core.dispatch.FileReport;
import dev.dusky.core.feed.TwinPolicy;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.tables.AdoptedRows;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/**
 * The files of a batch as other machines have attempted them. That a file is a twin is known only
 * when all have reported: then the rest of its part is attempted once more without it.
 */
final class DispatchBatch implements AutoCloseable {

  private final LoadRun run;
  private final DispatchOrder order;
  private final AdoptedRows rows;
  private final Function<String, Optional<FileEntry>> posted;
  private final Map<StagedFile, FileReport> reports = new HashMap<>();
  private final Map<StagedFile, Optional<FileEntry>> twins = new HashMap<>();
  private final Set<String> fingerprints = new HashSet<>();

  /**
   * A batch.
   *
   * @param rows takes the data files
   * @param posted the posted file with a fingerprint, if the ledger has one
   */
  DispatchBatch(
      LoadRun run,
      DispatchOrder order,
      AdoptedRows rows,
      Function<String, Optional<FileEntry>> posted) {
    this.run = run;
    this.order = order;
    this.rows = rows;
    this.posted = posted;
  }

  /** Has the files attempted; false if one of them needs the ledger for it. */
  boolean attempt(List<Assigned> files) {
    return order.among().isPresent() ? attemptTogether(files) : attemptApart(files);
  }

  private boolean attemptApart(List<Assigned> files) {
    List<DispatchPart> without = new ArrayList<>();
    boolean done = true;
    for (Reported part : dispatch(DispatchPart.divide(files))) {
      List<Assigned> others = others(part);
      if (others.size() == part.files().size()) {
        rows.adopt(part.written());
      } else {
        rows.drop(part.written());
        without.add(new DispatchPart(others));
      }
      done &= part.whole();
    }
    if (!twinsMayStay()) {
      return false;
    }
    without.removeIf(part -> part.files().isEmpty());
    for (Reported part : done ? dispatch(without) : List.<Reported>of()) {
      rows.adopt(part.written());
      done &= part.whole();
    }
    return done;
  }

  /**
   * Rows of a file are left out because others have them. If one of those is not posted after all,
   * the rest is attempted once more without it.
   */
  private boolean attemptTogether(List<Assigned> files) {
    List<Assigned> left = files;
    while (!left.isEmpty()) {
      fingerprints.clear();
      List<Reported> parts = dispatch(DispatchPart.divide(left));
      List<Assigned> posted = new ArrayList<>();
      boolean done = true;
      for (Reported part : parts) {
        others(part).stream().filter(file -> isPosted(file.file())).forEach(posted::add);
        done &= part.whole();
      }
      boolean all = posted.size() == left.size();
      for (Reported part : parts) {
        if (all) {
          rows.adopt(part.written());
        } else {
          rows.drop(part.written());
        }
      }
      if (!done || !twinsMayStay()) {
        return false;
      }
      left = all ? List.of() : posted;
    }
    return true;
  }

  private boolean twinsMayStay() {
    return twins.isEmpty() || run.feed().policies().arrivals().twins() == TwinPolicy.SKIP;
  }

  private boolean isPosted(StagedFile file) {
    return reports.get(file).outcome().filter(o -> o.state() == FileState.POSTED).isPresent();
  }

  private record Reported(List<Assigned> files, List<FileReport> reports) {

    List<String> written() {
      return reports.stream().flatMap(report -> report.written().stream()).toList();
    }

    /** Whether there is an outcome for each file. */
    boolean whole() {
      return reports.stream().allMatch(report -> report.outcome().isPresent());
    }
  }

  private List<Reported> dispatch(List<DispatchPart> parts) {
    if (parts.isEmpty()) {
      return List.of();
    }
    List<List<FileReport>> all =
        run.dispatch().orElseThrow().dispatcher().run(order, parts, run.stopped());
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

  /** The files of a part that are not twins of others. */
  private List<Assigned> others(Reported part) {
    List<Assigned> others = new ArrayList<>();
    for (int i = 0; i < part.files().size(); i++) {
      Assigned file = part.files().get(i);
      Optional<String> content =
          part.reports()
              .get(i)
              .outcome()
              .filter(outcome -> outcome.state() == FileState.POSTED)
              .flatMap(FileOutcome::fingerprint);
      Optional<FileEntry> before = content.flatMap(posted);
      if (before.isPresent() || content.isPresent() && !fingerprints.add(content.get())) {
        twins.put(file.file(), before);
      } else {
        others.add(file);
      }
    }
    return others;
  }

  /** What was reported of a file. */
  FileReport report(StagedFile file) {
    return reports.get(file);
  }

  /** Whether a file is a twin. */
  boolean isTwin(StagedFile file) {
    return twins.containsKey(file);
  }

  /** The file that it is a twin of, if that is none of this batch. */
  Optional<FileEntry> postedBefore(StagedFile file) {
    return twins.get(file);
  }

  @Override
  public void close() {
    reports.values().forEach(FileReport::close);
  }
}
