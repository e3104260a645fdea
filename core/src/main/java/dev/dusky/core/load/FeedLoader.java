package dev.dusky.core.load;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.drift.Drift;
import dev.dusky.core.drift.Growth;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Afterwards;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.feed.Readiness;
import dev.dusky.core.feed.RevisedPolicy;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.Ledger;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.ledger.RunningLoad;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.TableFit;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.tally.Tolerance;
import dev.dusky.core.warehouse.Warehouse;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.atomic.AtomicLong;

/**
 * Loads a feed's waiting files, each in a transaction of its own. A little over 400 lines, since
 * what is done about a file before, while and after it is loaded is told here in a row.
 */
public final class FeedLoader {

  /** So many files are moved or removed after they are posted, before the next ones are loaded. */
  private static final int DUE_TOGETHER = 100;

  /** So often a file begins anew since the row that stood for its repeats was refused. */
  private static final int MOST_REFUSALS = 16;

  /** So often a file begins anew since it and another transaction stood in each other's way. */
  private static final int MOST_CONFLICTS = 8;

  private static final long PAUSE_ASKED_EVERY = 1_000_000_000L;

  private final Warehouse warehouse;
  private final Ledger ledger;
  private final LoadRun run;
  private Feed feed;
  private List<GrownColumn> grown = List.of();
  private final Map<FileState, Integer> counts = new EnumMap<>(FileState.class);
  private long before;
  private long claimed;
  private Tally tally = Tally.NONE;
  private Tally refused = Tally.NONE;
  private long repeatsSeen;
  private final LoadRepeats repeats;
  private long settled;
  private long stuck;
  private long unready;
  private final AtomicLong changed = new AtomicLong();
  private final AtomicLong ignored = new AtomicLong();
  private Optional<String> pause = Optional.empty();
  private boolean asked;
  private long askedNanos;

  /** A loader for one run. */
  public FeedLoader(Warehouse warehouse, LoadRun run) {
    this(warehouse, warehouse.ledger(), run);
  }

  /** A loader that keeps other books than the warehouse's own, such as those of a rehearsal. */
  public FeedLoader(Warehouse warehouse, Ledger ledger, LoadRun run) {
    this.warehouse = warehouse;
    this.ledger = ledger;
    this.run = run;
    this.feed = run.feed();
    this.repeats = new LoadRepeats(feed, 1);
  }

  /** Loads all files that are waiting now. The ledger must be prepared. */
  public LoadResult run(LoadStart start) {
    long startNanos = System.nanoTime();
    feed = feed.grown(ledger.grown(feed.name()));
    grown = brought();
    TableShape table = table();
    DueFiles due = new DueFiles(ledger, run.depot(), run.listener());
    due.settle(feed);
    KnownFiles states =
        run.selection()
            .map(selection -> KnownFiles.of(ledger, feed, selection.files()))
            .orElseGet(() -> new KnownFiles(ledger, run.depot(), feed, start.at()));
    RunningLoad load = null;
    FilesTogether together = null;
    boolean done = false;
    try {
      while (!paused() && states.hasNext()) {
        KnownFile known = states.next();
        if (leave(known, start)) {
          continue;
        }
        if (load == null) {
          load = ledger.begin(start, feed, table);
          run.listener().begun(load.id());
        }
        if (together == null) {
          together = new FilesTogether(this, run, start, load);
        }
        together.deal(known);
        if (moves() && ++settled % DUE_TOGETHER == 0) {
          due.settle(feed);
        }
      }
      if (together != null) {
        together.finish();
      }
      if (load != null) {
        load.finish(LoadState.DONE, "");
        done = true;
      }
      if (moves() && settled > 0) {
        due.settle(feed);
      }
    } catch (Failure failure) {
      close(together, failure);
      if (load != null && !done) {
        finishAfter(load, failure);
      }
      throw failure;
    } finally {
      if (together != null) {
        together.close();
      }
      repeats.close();
      if (load != null) {
        load.close();
      }
    }
    Duration elapsed = Duration.ofNanos(System.nanoTime() - startNanos);
    return new LoadResult(
        feed.name(),
        load == null ? 0 : load.id(),
        Map.copyOf(counts),
        before,
        claimed - changed.get(),
        new LoadResult.Aside(stuck, unready, changed.get(), ignored.get(), pause),
        tally,
        refused,
        repeatsSeen,
        elapsed);
  }

  /** Whether somebody holds the feed; asked from time to time, since that may happen meanwhile. */
  private boolean paused() {
    long now = System.nanoTime();
    if (!asked || now - askedNanos > PAUSE_ASKED_EVERY) {
      asked = true;
      askedNanos = now;
      pause = ledger.pause(feed.name());
    }
    return pause.isPresent();
  }

  /** Whether there is nothing to be done about a file now. */
  private boolean leave(KnownFile known, LoadStart start) {
    if (run.again()) {
      return false;
    }
    if (known.done() || ignores(known) && known.noted()) {
      before++;
      return true;
    }
    if (run.patience().leaves(known, start.declaredHash())) {
      stuck++;
      return true;
    }
    if (!whole(known.file())) {
      unready++;
      return true;
    }
    return false;
  }

  private boolean ignores(KnownFile known) {
    return known.postedBefore().isPresent()
        && feed.policies().arrivals().revised() == RevisedPolicy.IGNORE;
  }

  /** Whether the file's writer is done with it. */
  private boolean whole(StagedFile file) {
    Readiness ready = feed.policies().arrivals().ready();
    Instant now = Instant.now();
    boolean quiet = run.patience().quiet(file, ready, now);
    if (!quiet && file.modified().isAfter(now)) {
      run.listener()
          .remark(
              "%s is dated %s, which is in the future; it is left until it has not changed for %s"
                  .formatted(file.path(), file.modified(), ready.quiet().toSeconds() + " s"));
    }
    return quiet
        && ready.markerOf(file.path()).map(m -> run.depot().look(m).isPresent()).orElse(true);
  }

  private boolean moves() {
    return !(feed.policies().arrivals().afterwards() instanceof Afterwards.Leave);
  }

  /** What was being posted behind a failure ends first; if it fails too, the failure tells both. */
  private static void close(FilesTogether together, Failure failure) {
    try {
      if (together != null) {
        together.close();
      }
    } catch (Failure again) {
      failure.addSuppressed(again);
    }
  }

  private static void finishAfter(RunningLoad load, Failure failure) {
    LoadState state =
        failure.kind() == Failure.Kind.INTERRUPTED ? LoadState.INTERRUPTED : LoadState.FAILED;
    try {
      load.finish(state, failure.getMessage());
    } catch (Failure again) {
      // The warehouse itself is gone: the load is marked as interrupted at the next start.
      failure.addSuppressed(again);
    }
  }

  /** How many files may be dealt with at the same time: one, where one depends on another. */
  int atOnce(RunningLoad load) {
    FeedPolicies policies = feed.policies();
    boolean apart =
        !run.again()
            && policies.repeats().scope() == RepeatPolicy.Scope.FILE
            && policies.loadTolerance() instanceof Tolerance.Any
            && policies.drift().map(drift -> !drift.grows()).orElse(true);
    return apart ? load.atOnce() : 1;
  }

  /** What remembers the rows of one of so many files that are dealt with at the same time. */
  LoadRepeats memory(int among) {
    return new LoadRepeats(feed, among);
  }

  /** Deals with one file in a transaction of its own. */
  FileResult deal(LoadStart start, RunningLoad load, KnownFile known) {
    return deal(start, load, known, ConcurrentFiles.none(repeats));
  }

  /** The same beside others. */
  FileResult deal(LoadStart start, RunningLoad load, KnownFile known, ConcurrentFiles beside) {
    StagedFile file = known.file();
    if (run.again() && known.state() == FileState.TWIN) {
      String message = known.entry().flatMap(FileEntry::message).orElse("a twin");
      return FileResult.passed(
          file, FileState.TWIN, Duration.ZERO, message + "; load that one again instead");
    }
    Optional<FileClaim> held =
        run.again() ? load.claimAgain(file) : load.claim(file, known.entry());
    if (held.isEmpty()) {
      return held(file);
    }
    try (FileClaim claim = held.get()) {
      if (known.postedBefore().isPresent() && !run.again()) {
        Revision revision = new Revision(file, known.postedBefore().get());
        switch (feed.policies().arrivals().revised()) {
          case HALT -> {
            return revision.halt(claim);
          }
          case IGNORE -> {
            ignored.incrementAndGet();
            return revision.ignore(claim);
          }
          case REPLACE, APPEND -> {}
        }
      }
      boolean replaces =
          run.again()
              || known.postedBefore().isPresent()
                  && feed.policies().arrivals().revised() == RevisedPolicy.REPLACE;
      run.listener().started(file);
      FileFacts facts = FileFacts.of(feed.files(), file, load.id(), start.at());
      return tries(load, file, facts, claim, replaces, beside);
    } catch (Failure failure) {
      return changed(file, failure);
    }
  }

  /** A file that is gone or another one since it was listed stops nothing; it is met again. */
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
    changed.incrementAndGet();
    return FileResult.passed(
        file,
        FileState.WAITING,
        Duration.ZERO,
        "changed or gone since it was listed; left waiting");
  }

  /** The columns that files brought to the feed. */
  private List<GrownColumn> brought() {
    return ledger.grown(feed.name()).stream()
        .filter(column -> run.feed().column(column.name()).isEmpty())
        .toList();
  }

  /** The load of a small file on the caller's thread, its bytes from that depot. */
  FileLoad inline(
      StagedFile file,
      FileFacts facts,
      FileClaim claim,
      Tally before,
      Depot from,
      RecordBatch batch) {
    FileDrift drift = new FileDrift(feed, grown, file, Optional.empty());
    return new FileLoad(
            run.withFeed(feed).withDepot(from),
            file,
            facts,
            claim,
            false,
            before,
            ConcurrentFiles.none(repeats),
            drift,
            new long[0])
        .inline(batch);
  }

  /** The account of the files posted so far. */
  Tally tally() {
    return tally;
  }

  /** Loads a file, anew each time that something comes to light which must be known before. */
  private FileResult tries(
      RunningLoad running,
      StagedFile file,
      FileFacts facts,
      FileClaim claim,
      boolean replaces,
      ConcurrentFiles beside) {
    Optional<List<Drift>> drifts = Optional.empty();
    long[] refused = new long[0];
    int refusals = 0;
    int conflicts = 0;
    while (true) {
      FileLoad load = load(file, facts, claim, replaces, drifts, beside, refused);
      try {
        return load.run();
      } catch (FileRepeats.Full full) {
        if (!claim.undoRows()) {
          return held(file);
        }
        beside.repeats().overflow();
      } catch (FileRepeats.Again again) {
        if (!claim.undoRows()) {
          return held(file);
        }
        refused = again.refused();
        if (++refusals > MOST_REFUSALS) {
          return load(file, facts, claim, replaces, drifts, beside, refused).refuse(stubborn(file));
        }
      } catch (Failure failure) {
        if (!failure.passing() || ++conflicts > MOST_CONFLICTS) {
          throw failure;
        }
        if (!claim.undoRows()) {
          return held(file);
        }
        beside.repeats().forgetLast();
        pause(conflicts);
      } catch (FileDrift.Growing growing) {
        if (!claim.undoRows()) {
          return held(file);
        }
        try {
          drifts = Optional.of(grow(running, claim, growing));
        } catch (Failure failure) {
          if (failure.kind() != Failure.Kind.FILE) {
            throw failure;
          }
          List<Drift> all =
              growing.growth().drifts().stream()
                  .map(drift -> drift.as(Drift.Action.REFUSED))
                  .toList();
          return load(file, facts, claim, replaces, Optional.of(all), beside, refused)
              .refuse(failure);
        }
      }
    }
  }

  /** Waits a little, each time longer and never as long as others that met at the same rows. */
  private static void pause(int times) {
    try {
      Thread.sleep(ThreadLocalRandom.current().nextLong(20L << times));
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private static Failure stubborn(StagedFile file) {
    return Failure.file(file.path() + " has rows whose repeats the table refuses one after another")
        .because(
            "after %d tries the row that stands for its repeats is still one that the table refuses"
                .formatted(MOST_REFUSALS))
        .next("Nothing of it was loaded. Correct the rows that 'dusky rehearse' shows");
  }

  private static FileResult held(StagedFile file) {
    return FileResult.passed(file, FileState.WAITING, Duration.ZERO, "claimed by another load");
  }

  private FileLoad load(
      StagedFile file,
      FileFacts facts,
      FileClaim claim,
      boolean replaces,
      Optional<List<Drift>> before,
      ConcurrentFiles beside,
      long[] refused) {
    FileDrift drift = new FileDrift(feed, grown, file, before);
    return new FileLoad(
        run.withFeed(feed), file, facts, claim, replaces, tally, beside, drift, refused);
  }

  /** The file asks for columns that the table does not have: it grows. */
  private List<Drift> grow(RunningLoad load, FileClaim claim, FileDrift.Growing growing) {
    Growth.Result result = load.grow(claim, growing.growth());
    List<Drift> drifts = new ArrayList<>(growing.noted());
    drifts.addAll(result.drifts());
    feed = result.feed();
    repeats.grown(feed);
    grown = brought();
    return drifts;
  }

  /** Takes what became of a file into account, and tells it. */
  void add(FileResult result) {
    if (result.state() == FileState.WAITING) {
      claimed++;
    } else {
      counts.merge(result.state(), 1, Integer::sum);
    }
    if (result.state() == FileState.REFUSED) {
      refused = refused.plus(result.tally());
    } else {
      tally = tally.plus(result.tally());
    }
    repeatsSeen += result.repeatsSeen();
    run.listener().finished(result);
  }

  /** The landing table, checked or made. */
  private TableShape table() {
    Optional<TableShape> existing = ledger.landing(feed);
    TableShape table =
        existing.orElseThrow(
            () ->
                Failure.warehouse(
                        "Table %s of feed %s does not exist".formatted(feed.into(), feed.name()))
                    .next(
                        "Set create: true in the feed, or make it with:\n"
                            + warehouse.createStatement(feed.into(), feed.columns())));
    List<String> problems = TableFit.problems(feed, table);
    if (!problems.isEmpty()) {
      throw Failure.warehouse("Table %s does not fit feed %s".formatted(feed.into(), feed.name()))
          .because(String.join("; ", problems))
          .next("Change the table or the feed's columns; no file was read");
    }
    return table;
  }
}
