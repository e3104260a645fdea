package dev.dusky.core.load;

import dev.dusky.core.depot.ArchiveDepot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.drift.Drift;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.feed.LoadMode;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.PostedRows;
import dev.dusky.core.ledger.ReplaceClaim;
import dev.dusky.core.table.ProvenanceKey;
import dev.dusky.core.table.TableName;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.tally.Tally;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Takes out what a load replaces, and reads its files, in one transaction. */
final class ReplacingFiles {

  /** What came to light about a file, so that everything has to be read again. */
  private static final class Lesson {
    private Optional<List<Drift>> drifts = Optional.empty();
    private Optional<Failure> refusal = Optional.empty();
    private long[] refused = new long[0];
    private int refusals;
  }

  /** How often rows kept instead of their repeats may be refused by the table. */
  private static final int MOST_REFUSALS = 16;

  private final LoadRun run;
  private final LoadStart start;
  private final long loadId;
  private final Tables tables;
  private final GrowingFeed growing;
  private final LoadRepeats repeats;
  private Optional<DispatchedFiles> elsewhere;
  private final Map<String, Lesson> lessons = new HashMap<>();
  private Optional<AttemptOutcome.NeedsGrowth> growth = Optional.empty();
  private String growingFor = "";

  /**
   * For one load.
   *
   * @param elsewhere attempts the files on other machines, if that is wanted
   */
  ReplacingFiles(
      LoadRun run,
      LoadStart start,
      long loadId,
      Tables tables,
      GrowingFeed growing,
      LoadRepeats repeats,
      Optional<DispatchedFiles> elsewhere) {
    this.elsewhere = elsewhere;
    this.run = run;
    this.start = start;
    this.loadId = loadId;
    this.tables = tables;
    this.growing = growing;
    this.repeats = repeats;
  }

  private TableName table() {
    return growing.landing().table().name();
  }

  /** Makes room for what is taken out. */
  void prepare() {
    tables.former().prepare(table(), loadId);
  }

  /** Forgets what is no longer needed. */
  void tidy() {
    tables.former().tidy(table());
  }

  /** Reads all files; empty if something has to happen first, and all is read again. */
  Optional<Replacing> read(ReplaceClaim claim, List<StagedFile> files) {
    repeats.forgetAll();
    LoadMode.Replace mode = run.feed().policies().replacing();
    tables.former().hold(claim.transaction(), table());
    List<PostedRows> postings = scope(mode, claim.inForce(), files);
    long rows =
        tables
            .former()
            .takeOut(
                claim.transaction(),
                table(),
                loadId,
                mode.by().isEmpty() ? Optional.empty() : Optional.of(keys(postings)));
    claim.replaced(postings, rows);
    if (files.stream().anyMatch(file -> ArchiveDepot.isMember(file.path()))) {
      elsewhere = Optional.empty();
    }
    if (elsewhere.isPresent()) {
      return dispatch(elsewhere.get(), claim, files, postings, rows);
    }
    List<FileResult> results = new ArrayList<>();
    Tally sum = Tally.NONE;
    for (StagedFile file : files) {
      Optional<FileResult> result = read(claim, file, sum);
      if (result.isEmpty()) {
        return Optional.empty();
      }
      results.add(result.get());
      boolean refused = result.get().state() == FileState.REFUSED;
      sum = refused ? sum : sum.plus(result.get().tally());
    }
    return Optional.of(new Replacing(run.feed().files(), postings, rows, results));
  }

  /** Has all files read on other machines; empty if they have to be read here. */
  private Optional<Replacing> dispatch(
      DispatchedFiles to,
      ReplaceClaim claim,
      List<StagedFile> files,
      List<PostedRows> postings,
      long rows) {
    Optional<DispatchedFiles.Attempted> done =
        to.attempt(claim.transaction(), files, file -> Optional.of(claim.of(file)), Tally.NONE);
    if (done.isEmpty()) {
      elsewhere = Optional.empty();
      return Optional.empty();
    }
    Replacing replacing = new Replacing(run.feed().files(), postings, rows, done.get().results());
    if (replacing.fault(run.feed().policies().replacing()).isPresent()) {
      done.get().rows().discard();
    } else {
      done.get().rows().send();
    }
    return Optional.of(replacing);
  }

  private static List<ProvenanceKey> keys(List<PostedRows> postings) {
    return postings.stream().map(p -> new ProvenanceKey(p.loadId(), p.fileId())).toList();
  }

  /** The postings that the files replace. */
  private List<PostedRows> scope(
      LoadMode.Replace mode, List<PostedRows> inForce, List<StagedFile> files) {
    if (mode.by().isEmpty()) {
      return inForce;
    }
    Set<List<String>> slices = new HashSet<>();
    files.forEach(file -> slices.add(mode.slice(run.feed().files(), file.path())));
    return inForce.stream()
        .filter(posted -> slices.contains(mode.slice(run.feed().files(), posted.path())))
        .toList();
  }

  private Optional<FileResult> read(ReplaceClaim whole, StagedFile file, Tally before) {
    Lesson lesson = lessons.computeIfAbsent(file.path(), path -> new Lesson());
    run.listener().started(file);
    try (FileClaim claim = whole.of(file)) {
      FileTask task =
          new FileTask(
              run.withFeed(growing.feed()),
              file,
              FileFacts.of(run.feed().files(), file, loadId, start.at()),
              FilePosting.of(claim, tables, growing.landing(), loadId),
              false,
              before,
              ConcurrentFiles.none(repeats),
              Optional.empty());
      FileDrift drift = new FileDrift(growing.feed(), growing.grown(), file, lesson.drifts);
      FileAttempt attempt = new FileAttempt(task, drift, lesson.refused);
      if (lesson.refusal.isPresent()) {
        return Optional.of(attempt.refuse(lesson.refusal.get()));
      }
      return learn(lesson, file, attempt.run());
    }
  }

  private Optional<FileResult> learn(Lesson lesson, StagedFile file, AttemptOutcome outcome) {
    if (outcome instanceof AttemptOutcome.Done done) {
      return Optional.of(done.result());
    }
    if (outcome instanceof AttemptOutcome.NeedsSurvey) {
      repeats.overflow();
    } else if (outcome instanceof AttemptOutcome.NeedsOthers others) {
      lesson.refused = others.refused();
      if (++lesson.refusals > MOST_REFUSALS) {
        lesson.refusal = Optional.of(FileProcessor.stubborn(file, MOST_REFUSALS));
      }
    } else if (outcome instanceof AttemptOutcome.NeedsGrowth wanted) {
      growth = Optional.of(wanted);
      growingFor = file.path();
    }
    return Optional.empty();
  }

  /** Lets the table grow for a file, if that is what has to happen. No transaction is open. */
  void grow() {
    if (growth.isEmpty()) {
      return;
    }
    AttemptOutcome.NeedsGrowth wanted = growth.get();
    growth = Optional.empty();
    Lesson lesson = lessons.get(growingFor);
    try {
      lesson.drifts = Optional.of(growing.grow(wanted.growth(), wanted.noted(), loadId));
      repeats.grown(growing.feed());
    } catch (Failure failure) {
      if (failure.kind() != Failure.Kind.FILE) {
        throw failure;
      }
      lesson.drifts =
          Optional.of(
              wanted.growth().drifts().stream()
                  .map(drift -> drift.as(Drift.Action.REFUSED))
                  .toList());
      lesson.refusal = Optional.of(failure);
    }
  }
}
