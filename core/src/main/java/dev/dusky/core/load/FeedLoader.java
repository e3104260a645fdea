package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.expect.Volume;
import dev.dusky.core.expect.VolumePolicy;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.feed.Afterwards;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.LoadLedger;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.ledger.RunningLoad;
import dev.dusky.core.repeat.HashMemory;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.tally.Tolerance;
import dev.dusky.core.usage.Meter;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.function.BiFunction;
import java.util.function.Function;

/**
 * Loads a feed's waiting files: lists them, leaves some alone, and gives the others to a scheduler.
 */
public final class FeedLoader {

  /** How many files are posted before what is due for them is done. */
  private static final int DUE_TOGETHER = 100;

  private final LoadLedger ledger;
  private final Tables tables;
  private final LoadRun run;
  private final LoadAccount account = new LoadAccount();
  private final PauseCheck pause;

  /**
   * A loader for one run.
   *
   * @param ledger a ledger that is prepared, or that of a rehearsal
   */
  public FeedLoader(LoadLedger ledger, Tables tables, LoadRun run) {
    this.ledger = ledger;
    this.tables = tables;
    this.run = run;
    this.pause = new PauseCheck(ledger, run.feed().name());
  }

  /** Loads all files that are waiting now. */
  public LoadResult run(LoadStart start) {
    try (Meter meter = Meter.open()) {
      return run(start, meter);
    }
  }

  private LoadResult run(LoadStart start, Meter meter) {
    long startNanos = System.nanoTime();
    checkAgain();
    checkDispatch();
    GrowingFeed growing = GrowingFeed.open(ledger, tables, run.feed());
    DueFiles due = new DueFiles(ledger, run.depot(), run.listener());
    due.settle(growing.feed());
    KnownFiles files = files(growing.feed(), start);
    FileChoice choice = new FileChoice(run, start.declaredHash(), account);
    long id = 0;
    try (OpenLoad load = new OpenLoad(growing, start, meter)) {
      try {
        if (run.feed().policies().replaces() && !pause.paused()) {
          choice.together(files).forEach(load::add);
        }
        while (!pause.paused() && files.hasNext()) {
          KnownFile known = files.next();
          if (!choice.leaves(known)) {
            load.add(known);
            if (moves() && ++load.added % DUE_TOGETHER == 0) {
              due.settle(growing.feed());
            }
          }
        }
        load.finish();
        if (moves() && load.added > 0) {
          due.settle(growing.feed());
        }
      } catch (Failure failure) {
        load.fail(failure);
        throw failure;
      }
      id = load.id();
    }
    return account.result(
        run.feed().name(),
        id,
        pause.reason(),
        Duration.ofNanos(System.nanoTime() - startNanos),
        meter.usage());
  }

  private void checkAgain() {
    if (run.again() && run.feed().policies().replaces()) {
      throw Failure.usage("A file of feed %s cannot be loaded again".formatted(run.feed().name()))
          .because("the feed's loads replace what is in " + run.feed().into())
          .hint(
              "Bring back what a load replaced with {}, or stage the file under a new name",
              Invocation.of("reverse"));
    }
  }

  private void checkDispatch() {
    if (run.dispatch().isPresent() && run.selection().isPresent()) {
      throw Failure.usage("Feed %s cannot be loaded on the engine".formatted(run.feed().name()))
          .because("the files are chosen one by one")
          .hint("Load it without --on engine; nothing was changed");
    }
  }

  private KnownFiles files(Feed feed, LoadStart start) {
    return run.selection()
        .map(selection -> KnownFiles.of(ledger, feed, selection.files()))
        .orElseGet(() -> new KnownFiles(ledger, run.depot(), feed, start.at()));
  }

  private boolean moves() {
    return !(run.feed().policies().arrivals().afterwards() instanceof Afterwards.Leave);
  }

  private void add(FileResult result) {
    account.add(result);
    run.listener().finished(result);
  }

  /** The load's entry, opened with the first file that is processed, and its scheduler. */
  private final class OpenLoad implements AutoCloseable {

    private final GrowingFeed growing;
    private final LoadStart start;
    private final Meter meter;
    private final HashMemory memory;
    private final LoadRepeats repeats;
    private RunningLoad load;
    private FileScheduler scheduler;
    private boolean done;
    private long added;

    OpenLoad(GrowingFeed growing, LoadStart start, Meter meter) {
      this.growing = growing;
      this.start = start;
      this.meter = meter;
      this.memory = HashMemory.of(growing.feed().policies().repeats());
      this.repeats = new LoadRepeats(growing.feed(), memory);
    }

    long id() {
      return load == null ? 0 : load.id();
    }

    void add(KnownFile known) {
      if (load == null) {
        load = ledger.begin(start, growing.feed());
        run.listener().begun(load.id());
        scheduler = scheduler();
      }
      scheduler.add(known);
    }

    void finish() {
      if (load != null) {
        scheduler.finish();
        load.finish(LoadState.DONE, "", meter.usage());
        done = true;
      }
    }

    private FileScheduler scheduler() {
      LoadRun run = FeedLoader.this.run.withPast(past());
      if (run.feed().policies().replaces()) {
        return new ReplacingScheduler(
            run,
            load,
            new ReplacingFiles(
                run,
                start,
                load.id(),
                tables,
                growing,
                repeats,
                run.dispatch().map(to -> dispatched(run, this::slice, content -> none()))),
            account,
            FeedLoader.this::add);
      }
      FileProcessor processor = new FileProcessor(run, start, load, tables, growing, account);
      int atOnce = atOnce(growing.feed());
      FileScheduler alone =
          atOnce == 1
              ? FileScheduler.sequential(
                  known -> processor.process(known, ConcurrentFiles.none(repeats)),
                  FeedLoader.this::add)
              : new ConcurrentScheduler(
                  atOnce,
                  (known, order) -> {
                    try (LoadRepeats own = new LoadRepeats(growing.feed(), memory)) {
                      return processor.process(known, new ConcurrentFiles(atOnce, order, own));
                    }
                  },
                  FeedLoader.this::add);
      BiFunction<List<KnownFile>, Tally, Optional<PendingGroup>> reading =
          run.dispatch().isPresent()
              ? new DispatchReader(load, dispatched(run, file -> "", this::twin))::read
              : new GroupReader(run, start, load, tables, growing, repeats)::read;
      return new GroupScheduler(
          new SmallFiles(run, growing.feed()),
          reading,
          alone,
          account::tally,
          FeedLoader.this::add);
    }

    private DispatchedFiles dispatched(
        LoadRun run,
        Function<StagedFile, String> among,
        Function<String, Optional<FileEntry>> posted) {
      return new DispatchedFiles(run, start, load.id(), tables, growing, among, posted);
    }

    private Optional<FileEntry> twin(String content) {
      return ledger.twin(run.feed().name(), content);
    }

    /** What is in the table is replaced, so only files of the load itself have twins there. */
    private Optional<FileEntry> none() {
      return Optional.empty();
    }

    private String slice(StagedFile file) {
      return run.feed().policies().replacing().slice(run.feed().files(), file.path()).toString();
    }

    /** The volumes with which those of the files are compared. */
    private List<Volume> past() {
      Feed feed = run.feed();
      return feed.policies().expectations().volume().flatMap(VolumePolicy::refuse).isPresent()
          ? ledger.volumes(feed.name(), VolumePolicy.PAST)
          : List.of();
    }

    /** Pending commits end first; then the load's entry gets the failure. */
    void fail(Failure failure) {
      try {
        if (scheduler != null) {
          scheduler.close();
        }
        if (load != null && !done) {
          boolean interrupted = failure.kind() == Failure.Kind.INTERRUPTED;
          load.finish(
              interrupted ? LoadState.INTERRUPTED : LoadState.FAILED,
              failure.getMessage(),
              meter.usage());
        }
      } catch (Failure again) {
        // The warehouse itself may be gone: the next start marks the load as interrupted.
        failure.addSuppressed(again);
      }
    }

    @Override
    public void close() {
      try {
        if (scheduler != null) {
          scheduler.close();
        }
      } finally {
        repeats.close();
        if (load != null) {
          load.close();
        }
      }
    }
  }

  /** How many files may be processed at the same time: one where one depends on another. */
  private int atOnce(Feed feed) {
    FeedPolicies policies = feed.policies();
    boolean apart =
        !run.again()
            && policies.repeats().scope() == RepeatPolicy.Scope.FILE
            && policies.loadTolerance() instanceof Tolerance.Any
            && policies.drift().map(drift -> !drift.grows()).orElse(true);
    return apart ? tables.concurrency(feed.into()) : 1;
  }
}
