package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.drift.Drift;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.feed.RevisedPolicy;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.RunningLoad;
import dev.dusky.core.tables.Tables;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.ThreadLocalRandom;

/** Takes one file from its claim to its outcome, in its own transaction. */
final class FileProcessor {

  /** How often a file is tried again because a row kept instead of its repeats was refused. */
  private static final int MOST_REFUSALS = 16;

  /** How often a file is tried again because it conflicts with another transaction. */
  private static final int MOST_CONFLICTS = 8;

  private final LoadRun run;
  private final LoadStart start;
  private final RunningLoad load;
  private final Tables tables;
  private final GrowingFeed growing;
  private final LoadAccount account;

  FileProcessor(
      LoadRun run,
      LoadStart start,
      RunningLoad load,
      Tables tables,
      GrowingFeed growing,
      LoadAccount account) {
    this.run = run;
    this.start = start;
    this.load = load;
    this.tables = tables;
    this.growing = growing;
    this.account = account;
  }

  /** Processes a file. */
  FileResult process(KnownFile known, ConcurrentFiles beside) {
    StagedFile file = known.file();
    if (run.again() && known.state() == FileState.TWIN) {
      String message = known.entry().flatMap(FileEntry::message).orElse("a twin");
      return FileResult.passed(
          file, FileState.TWIN, Duration.ZERO, message + "; load that one again instead");
    }
    Optional<FileClaim> held =
        run.again() ? load.claimAgain(file) : load.claim(file, known.entry());
    if (held.isEmpty()) {
      return FileResult.held(file, Duration.ZERO);
    }
    try (FileClaim claim = held.get()) {
      return process(known, claim, beside);
    } catch (Failure failure) {
      return changed(file, failure);
    }
  }

  private FileResult process(KnownFile known, FileClaim claim, ConcurrentFiles beside) {
    StagedFile file = known.file();
    RevisedPolicy policy = run.feed().policies().arrivals().revised();
    boolean revised = known.postedBefore().isPresent() && !run.again();
    if (revised && policy == RevisedPolicy.HALT) {
      return new Revision(file, known.postedBefore().get()).halt(claim);
    }
    if (revised && policy == RevisedPolicy.IGNORE) {
      account.ignored();
      return new Revision(file, known.postedBefore().get()).ignore(claim);
    }
    run.listener().started(file);
    boolean replaces = run.again() || revised && policy == RevisedPolicy.REPLACE;
    return new Tries(file, claim, replaces, beside).run();
  }

  /** A file that changed or disappeared since it was listed stops nothing; it is found again. */
  private FileResult changed(StagedFile file, Failure failure) {
    if (failure.kind() != Failure.Kind.DEPOT
        || run.again()
        || run.selection().flatMap(Selection::manifest).isPresent()
        || run.depot()
            .look(file.path())
            .map(StagedFile::version)
            .equals(Optional.of(file.version()))) {
      throw failure;
    }
    account.changed();
    return FileResult.passed(
        file,
        FileState.WAITING,
        Duration.ZERO,
        "changed or gone since it was listed; left waiting");
  }

  /** The attempts at one file. */
  private final class Tries {

    private final StagedFile file;
    private final FileClaim claim;
    private final boolean replaces;
    private final ConcurrentFiles beside;
    private final FileFacts facts;
    private Optional<List<Drift>> drifts = Optional.empty();
    private long[] refused = new long[0];
    private int refusals;
    private int conflicts;

    Tries(StagedFile file, FileClaim claim, boolean replaces, ConcurrentFiles beside) {
      this.file = file;
      this.claim = claim;
      this.replaces = replaces;
      this.beside = beside;
      this.facts = FileFacts.of(FileProcessor.this.run.feed().files(), file, load.id(), start.at());
    }

    FileResult run() {
      while (true) {
        Optional<FileResult> result = attempt();
        if (result.isPresent()) {
          return result.get();
        }
      }
    }

    /** Tries once; empty if the file is to be tried again. */
    private Optional<FileResult> attempt() {
      AttemptOutcome outcome;
      try {
        outcome = next(drifts).run();
      } catch (Failure failure) {
        if (!failure.passing() || ++conflicts > MOST_CONFLICTS) {
          throw failure;
        }
        return again(this::waitForOthers);
      }
      if (outcome instanceof AttemptOutcome.Done done) {
        return Optional.of(done.result());
      }
      if (outcome instanceof AttemptOutcome.NeedsSurvey) {
        return again(() -> beside.repeats().overflow());
      }
      if (outcome instanceof AttemptOutcome.NeedsOthers others) {
        return again(() -> refused = others.refused())
            .or(
                () ->
                    ++refusals > MOST_REFUSALS
                        ? Optional.of(refuse(stubborn(file, MOST_REFUSALS)))
                        : empty());
      }
      AttemptOutcome.NeedsGrowth growth = (AttemptOutcome.NeedsGrowth) outcome;
      return claim.renew() ? grow(growth) : Optional.of(FileResult.held(file, Duration.ZERO));
    }

    private Optional<FileResult> empty() {
      return Optional.empty();
    }

    /** Prepares the next attempt, unless another load has settled the file meanwhile. */
    private Optional<FileResult> again(Runnable preparation) {
      if (!claim.renew()) {
        return Optional.of(FileResult.held(file, Duration.ZERO));
      }
      preparation.run();
      return Optional.empty();
    }

    private Optional<FileResult> grow(AttemptOutcome.NeedsGrowth wanted) {
      try {
        drifts = Optional.of(growing.grow(wanted.growth(), wanted.noted(), load.id()));
        beside.repeats().grown(growing.feed());
        return Optional.empty();
      } catch (Failure failure) {
        if (failure.kind() != Failure.Kind.FILE) {
          throw failure;
        }
        drifts =
            Optional.of(
                wanted.growth().drifts().stream()
                    .map(drift -> drift.as(Drift.Action.REFUSED))
                    .toList());
        return Optional.of(refuse(failure));
      }
    }

    private FileResult refuse(Failure failure) {
      return next(drifts).refuse(failure);
    }

    private FileAttempt next(Optional<List<Drift>> noted) {
      FileTask task =
          new FileTask(
              FileProcessor.this.run.withFeed(growing.feed()),
              file,
              facts,
              FilePosting.of(claim, tables, growing.landing(), load.id()),
              replaces,
              account.tally(),
              beside,
              Optional.empty());
      return new FileAttempt(
          task, new FileDrift(growing.feed(), growing.grown(), file, noted), refused);
    }

    /** Waits a little, longer each time, and never as long as others that met at the same rows. */
    private void waitForOthers() {
      beside.repeats().forgetLast();
      try {
        Thread.sleep(ThreadLocalRandom.current().nextLong(20L << conflicts));
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
      }
    }
  }

  /** A file whose repeated rows are refused by the table one after another. */
  static Failure stubborn(StagedFile file, int tries) {
    return Failure.file(file.path() + " has repeated rows that the table refuses one after another")
        .because(
            "after %d tries the table still refuses the row kept instead of its repeats"
                .formatted(tries))
        .hint(
            "Nothing of it was loaded. Correct the rows that {} shows", Invocation.of("rehearse"));
  }
}
