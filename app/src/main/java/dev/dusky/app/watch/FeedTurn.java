package dev.dusky.app.watch;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.figures.TallyFigures;
import dev.dusky.app.watch.WatchEvent.Level;
import dev.dusky.app.workspace.RejectDelivery;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.drift.Drift;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.Readiness;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.FileResult;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.load.RetryPolicy;
import dev.dusky.core.load.Selection;
import dev.dusky.core.preview.FittingFeed;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.watch.Inbox;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.BiConsumer;
import java.util.function.BooleanSupplier;
import java.util.function.Predicate;

/** One feed's turns: what waits is loaded, what is not ready or needs a person is left alone. */
final class FeedTurn {

  /**
   * How long a file of a directory must not have changed, unless the feed declares another time.
   */
  private static final Duration SETTLED = Duration.ofSeconds(2);

  /** A single round waits no longer than this for files that are dated in the future. */
  private static final Duration LONGEST_LOOK = Duration.ofMinutes(1);

  private final Workspace workspace;
  private final Feed feed;
  private final Inbox inbox;
  private final WatchListener listener;
  private final BooleanSupplier stopped;
  private final RetryPolicy retries = RetryPolicy.lasting(System::nanoTime);
  private final BiConsumer<String, Predicate<String>> settled;
  private String lastPause = "";

  /**
   * The turns of a feed.
   *
   * @param settled receives after each turn which paths are settled: nothing is left to do for them
   */
  FeedTurn(
      Workspace workspace,
      Feed declared,
      Inbox inbox,
      WatchListener listener,
      BooleanSupplier stopped,
      BiConsumer<String, Predicate<String>> settled) {
    this.workspace = workspace;
    this.settled = settled;
    this.feed = settling(workspace, declared);
    this.inbox = inbox;
    this.listener = listener;
    this.stopped = stopped;
  }

  /** Files of directories are seen while they are written; objects are whole when they are seen. */
  private static Feed settling(Workspace workspace, Feed feed) {
    boolean objects = workspace.configuration().depot(feed.depot()).objects();
    if (objects || !feed.policies().arrivals().ready().equals(Readiness.AT_ONCE)) {
      return feed;
    }
    return feed.withPolicies(
        feed.policies()
            .withArrivals(
                feed.policies().arrivals().withReady(new Readiness(SETTLED, Optional.empty()))));
  }

  Feed feed() {
    return feed;
  }

  /** How soon another look is worth while. */
  Optional<Duration> soonest(LoadResult result) {
    boolean waiting = result.aside().unready() > 0 || result.aside().changed() > 0;
    Duration quiet = feed.policies().arrivals().ready().quiet();
    return waiting ? Optional.of(quiet.isZero() ? SETTLED : quiet) : Optional.empty();
  }

  /**
   * Whether files are left that a clock cannot show to be complete, since they are dated in the
   * future: waits until they would have shown a change.
   */
  boolean worthAnotherLook(LoadResult result) {
    Duration quiet = feed.policies().arrivals().ready().quiet();
    if (result.aside().unready() == 0 || !retries.undated() || quiet.compareTo(LONGEST_LOOK) > 0) {
      return false;
    }
    try {
      for (long left = quiet.toMillis() + 50; left > 0 && !stopped.getAsBoolean(); left -= 100) {
        Thread.sleep(Math.min(100, left));
      }
      return !stopped.getAsBoolean();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      return false;
    }
  }

  /**
   * Loads what waits.
   *
   * @param whole whether the depot is listed; if not, only what was notified is looked at
   */
  LoadResult run(boolean whole) {
    Warehouse warehouse = workspace.warehouse();
    warehouse
        .ledger()
        .closeInterrupted()
        .forEach(
            load ->
                listener.event(
                    Level.WARN, "interrupted", "", "load " + load + " was interrupted earlier"));
    Depot depot = workspace.depot(feed);
    List<String> notified = inbox.take(feed.name());
    Optional<Selection> selection = whole ? Optional.empty() : arrived(depot, notified);
    Listener files = new Listener(listener.scanning(feed.name()));
    LoadRun run =
        LoadRun.of(feed, depot, files, stopped)
            .withFitting(new FittingFeed(workspace.configuration().feedsOf(feed)))
            .withSelection(selection)
            .withRetries(retries);
    try {
      LoadResult result =
          new FeedLoader(warehouse.ledger(), warehouse.tables(), run)
              .run(workspace.start(workspace.configuration().feed(feed.name())));
      tell(result);
      settle(notified, files, result);
      new RejectDelivery(
              text -> listener.event(Level.INFO, "delivery", feed.name(), text),
              text -> listener.event(Level.WARN, "delivery", feed.name(), text),
              workspace,
              feed)
          .deliver(result.loadId());
      return result;
    } catch (RuntimeException e) {
      notified.forEach(path -> inbox.add(feed.name(), path)); // looked at again in the next turn
      throw e;
    }
  }

  /** Files that are not ready, that another process has, or that a pause keeps stay notified. */
  private void settle(List<String> notified, Listener files, LoadResult result) {
    boolean open =
        result.aside().unready() > 0
            || result.aside().changed() > 0
            || result.aside().pause().isPresent();
    for (String path : notified) {
      if (files.waits(path) || open && !files.finished.contains(path)) {
        inbox.add(feed.name(), path);
      }
    }
    settled.accept(
        feed.name(),
        path ->
            !files.waits(path)
                && (files.finished.contains(path) || !open && notified.contains(path)));
  }

  private static Optional<Selection> arrived(Depot depot, List<String> paths) {
    List<StagedFile> files = paths.stream().flatMap(path -> depot.look(path).stream()).toList();
    return Optional.of(Selection.arrived(files));
  }

  private void tell(LoadResult result) {
    String pause = result.aside().pause().orElse("");
    if (!pause.equals(lastPause)) {
      listener.event(Level.WARN, "pause", feed.name(), pause.isEmpty() ? "resumed" : pause);
      lastPause = pause;
    }
    if (result.loadId() == 0) {
      return;
    }
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("load", result.loadId());
    fields.putAll(TallyFigures.fields(result.tally()));
    fields.put("seconds", result.elapsed().toMillis() / 1000.0);
    listener.event(
        result.tally().balanced() ? Level.INFO : Level.ERROR,
        "load",
        feed.name(),
        "load %d  %s  %s"
            .formatted(
                result.loadId(),
                TallyFigures.sum(result.tally()),
                Figures.duration(result.elapsed())),
        fields);
  }

  private final class Listener implements LoadListener {

    private final LoadListener files;
    private final Set<String> finished = ConcurrentHashMap.newKeySet();
    private final Set<String> waiting = ConcurrentHashMap.newKeySet();

    /** Whether a file, or one in it, was left for later. */
    boolean waits(String path) {
      return waiting.stream().anyMatch(each -> each.startsWith(path));
    }

    Listener(LoadListener files) {
      this.files = files;
    }

    @Override
    public void started(StagedFile file) {
      files.started(file);
    }

    @Override
    public void progress(StagedFile file, long rows, long storedBytes) {
      files.progress(file, rows, storedBytes);
    }

    @Override
    public void remark(String text) {
      listener.event(Level.WARN, "remark", feed.name(), text);
    }

    @Override
    public void finished(FileResult result) {
      files.finished(result);
      if (result.state() == FileState.WAITING) {
        waiting.add(result.file().path());
        return; // another process is at it, or it comes again
      }
      finished.add(result.file().path());
      boolean well = result.state() == FileState.POSTED || result.state() == FileState.TWIN;
      Map<String, Object> fields = new LinkedHashMap<>();
      fields.put("path", result.file().path());
      fields.put("state", result.state().label());
      fields.putAll(TallyFigures.fields(result.tally()));
      fields.put("reason", result.message());
      listener.event(
          well ? Level.INFO : Level.WARN,
          "file",
          feed.name(),
          "%s %s  %s"
              .formatted(
                  result.state().label(),
                  result.file().path(),
                  result.state() == FileState.POSTED
                      ? TallyFigures.sum(result.tally())
                      : result.message()),
          fields);
      for (Drift drift : result.drifts()) {
        if (drift.action() == Drift.Action.REFUSED) {
          continue; // the refusal says it
        }
        listener.event(Level.WARN, "drift", feed.name(), result.file().path() + ": " + drift);
      }
    }
  }
}
