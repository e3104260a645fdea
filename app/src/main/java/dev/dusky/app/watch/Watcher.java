package dev.dusky.app.watch;

import dev.dusky.app.alert.Alerts;
import dev.dusky.app.config.WatchSettings;
import dev.dusky.app.figures.Figures;
import dev.dusky.app.report.MakeReport;
import dev.dusky.app.report.Report;
import dev.dusky.app.watch.WatchEvent.Level;
import dev.dusky.app.workspace.FeedStatus;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.concurrent.Worker;
import dev.dusky.core.expect.Expected;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.WatchEntry;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.watch.Agenda;
import dev.dusky.core.watch.Backoff;
import dev.dusky.core.watch.Inbox;
import dev.dusky.depots.Depots;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SplittableRandom;
import java.util.concurrent.atomic.AtomicReference;
import java.util.concurrent.locks.ReadWriteLock;
import java.util.concurrent.locks.ReentrantReadWriteLock;
import java.util.function.BooleanSupplier;
import java.util.function.Function;
import java.util.function.Predicate;

/**
 * Looks after feeds until it is stopped: threads take what is due from an {@link Agenda}. What
 * fails is tried again later and stops nothing else.
 */
final class Watcher {

  private static final String MERGES = "merges";
  private static final String ALERTS = "alerts";
  private static final long NAP_MILLIS = 200;
  private static final int INBOX = 10_000;

  /** The period that the served report shows. */
  private static final Duration REPORTED = Duration.ofDays(30);

  private final Workspace workspace;
  private final WatchSettings settings;
  private final WatchListener listener;
  private final Function<Report, String> page;
  private final BooleanSupplier stopped;
  private final boolean once;
  private final String name = Workspace.host() + " process " + ProcessHandle.current().pid();
  private final Agenda agenda;
  private final Inbox inbox = new Inbox(INBOX);
  private final WatchMetrics metrics = new WatchMetrics();
  private final Map<String, FeedTurn> feeds = new LinkedHashMap<>();
  private final MergesTurn merges;
  private final AtomicReference<RuntimeException> fatal = new AtomicReference<>();
  private final AtomicReference<Failure> lastFailure = new AtomicReference<>();
  private final ReadWriteLock turns = new ReentrantReadWriteLock();
  private volatile Optional<QueueNotices> notices = Optional.empty();
  private volatile boolean unclean;
  private volatile boolean finished;

  /**
   * A watcher.
   *
   * @param page writes a report as a page
   * @param once whether it ends when all that is due is done
   */
  public Watcher(
      Workspace workspace,
      WatchSettings settings,
      List<Feed> chosen,
      WatchListener listener,
      Function<Report, String> page,
      BooleanSupplier stopped,
      boolean once) {
    this.workspace = workspace;
    this.settings = settings;
    this.listener = listener;
    this.page = page;
    this.stopped = stopped;
    this.once = once;
    this.agenda = new Agenda(Backoff.DEFAULT, new SplittableRandom(), once);
    this.merges = new MergesTurn(workspace, listener, metrics, this::ending);
    long now = System.nanoTime();
    for (Feed feed : chosen) {
      feeds.put(
          feed.name(), new FeedTurn(workspace, feed, inbox, listener, this::ending, this::settled));
      agenda.add(feed.name(), Optional.of(settings.interval()), now);
    }
    agenda.add(MERGES, Optional.empty(), now);
    if (workspace.configuration().alerts().isPresent()) {
      agenda.add(ALERTS, Optional.of(settings.interval()), now);
    }
    settings
        .merges()
        .forEach(
            (merge, timing) ->
                timing
                    .every()
                    .ifPresent(every -> agenda.add(task(merge), Optional.of(every), now)));
  }

  private static String task(String merge) {
    return "merge " + merge;
  }

  private boolean ending() {
    return stopped.getAsBoolean() || fatal.get() != null;
  }

  /**
   * Works until it is stopped, or until all that is due is done.
   *
   * @return whether every file could be processed
   */
  public boolean run() throws InterruptedException {
    List<Feed> all = feeds.values().stream().map(FeedTurn::feed).toList();
    ArrivalDesk desk = new ArrivalDesk(workspace.configuration(), all, inbox, this::wake);
    Optional<WatchEndpoint> endpoint =
        once
            ? Optional.empty()
            : settings
                .listen()
                .map(
                    address ->
                        new WatchEndpoint(
                            address,
                            settings.secret().orElseThrow(),
                            desk,
                            metrics,
                            () -> page(all),
                            this::failing));
    endpoint.ifPresent(
        e -> listener.event(Level.INFO, "listening", "", "listening on port " + e.port()));
    notices =
        settings
            .notices()
            .filter(queue -> !once)
            .map(
                queue ->
                    new QueueNotices(
                        Depots.open(queue), desk, listener, metrics, () -> ending() || finished));
    notices.ifPresent(
        taker -> {
          listener.event(Level.INFO, "listening", "", "taking notices from " + taker.place());
          taker.start();
        });
    listener.begun(new LiveControl(workspace, all, agenda, turns.readLock()));
    List<Worker> lanes = new ArrayList<>();
    try {
      for (int i = 0; i < settings.atOnce(); i++) {
        Worker lane = new Worker("dusky-watch-" + (i + 1), this::work);
        lanes.add(lane);
        lane.start();
      }
      while (!ending() && !(once && agenda.idle(System.nanoTime()))) {
        Thread.sleep(NAP_MILLIS);
        rest();
      }
    } finally {
      finished = true;
      endpoint.ifPresent(WatchEndpoint::close);
      notices.ifPresent(QueueNotices::close);
      lanes.forEach(Worker::join);
    }
    if (fatal.get() != null) {
      throw fatal.get();
    }
    if (once && lastFailure.get() != null) {
      throw lastFailure.get();
    }
    return !unclean;
  }

  private String page(List<Feed> all) {
    turns.readLock().lock();
    try {
      List<String> names = all.stream().map(Feed::name).toList();
      return page.apply(new MakeReport(workspace).make(names, REPORTED, ZoneOffset.UTC, false));
    } finally {
      turns.readLock().unlock();
    }
  }

  /** Closes an embedded warehouse while no scan runs and none can begin. */
  private void rest() {
    if (turns.writeLock().tryLock()) {
      try {
        if (agenda.idle(System.nanoTime())) {
          workspace.rest();
        }
      } finally {
        turns.writeLock().unlock();
      }
    }
  }

  private void settled(String feed, Predicate<String> paths) {
    notices.ifPresent(taker -> taker.settled(feed, paths));
  }

  private void wake(String task) {
    agenda.wake(task);
  }

  private Map<String, Integer> failing() {
    Map<String, Integer> failing = new LinkedHashMap<>();
    feeds.keySet().forEach(feed -> failing.put(feed, agenda.failures(feed)));
    failing.put(MERGES, agenda.failures(MERGES));
    failing.values().removeIf(times -> times == 0);
    return failing;
  }

  private void work() {
    try {
      while (!ending() && !finished) {
        Optional<Agenda.Turn> turn = agenda.take(System.nanoTime());
        if (turn.isPresent()) {
          work(turn.get());
        } else {
          Thread.sleep(NAP_MILLIS);
        }
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    } catch (Throwable e) { // nothing may end a lane unseen
      fatal.compareAndSet(null, new IllegalStateException("watching stopped", e));
    }
  }

  private void work(Agenda.Turn turn) {
    turns.readLock().lock();
    try {
      take(turn);
    } finally {
      turns.readLock().unlock();
    }
  }

  private void take(Agenda.Turn turn) {
    try {
      Optional<Duration> soonest = Optional.empty();
      FeedTurn feed = feeds.get(turn.task());
      if (feed != null) {
        soonest = load(feed, turn.regular());
      } else if (turn.task().equals(MERGES)) {
        merges.run();
      } else if (turn.task().equals(ALERTS)) {
        alerts();
      } else {
        merges.due(turn.task().substring(task("").length()));
        agenda.wake(MERGES);
      }
      agenda.done(turn, once ? Optional.empty() : soonest, System.nanoTime());
    } catch (Failure failure) {
      failed(turn, failure);
    } catch (RuntimeException e) {
      failed(
          turn,
          Failure.warehouse("An unexpected error stopped this scan").because(e.toString()).from(e));
    }
  }

  /** Looks at all that is watched, and sends what is due. */
  private void alerts() {
    Alerts alerts = new Alerts(workspace, why -> listener.event(Level.ERROR, "alert", ALERTS, why));
    alerts.look(
        feeds.values().stream().map(FeedTurn::feed).toList(),
        workspace.configuration().merges().values(),
        !once);
    try {
      int sent = alerts.send();
      if (sent > 0) {
        listener.event(Level.INFO, "alert", ALERTS, Figures.plural(sent, "alert") + " sent");
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private Optional<Duration> load(FeedTurn turn, boolean whole) {
    LoadResult result = turn.run(whole);
    loaded(result);
    boolean posted = result.count(FileState.POSTED) > 0;
    if (once && turn.worthAnotherLook(result)) {
      result = turn.run(whole);
      loaded(result);
      posted |= result.count(FileState.POSTED) > 0;
    }
    if (once && result.aside().unready() > 0) {
      listener.event(
          Level.INFO,
          "unready",
          turn.feed().name(),
          "%s changed too recently to be known as complete; left for the next scan"
              .formatted(Figures.plural(result.aside().unready(), "file")));
    }
    if (posted && merges.posted(turn.feed())) {
      agenda.wake(MERGES);
    }
    if (whole) {
      List<Expected> expected = FeedStatus.expectedByLedger(workspace, turn.feed(), Instant.now());
      if (!expected.isEmpty()) {
        metrics.missing(turn.feed().name(), FeedStatus.missing(expected));
      }
      workspace
          .warehouse()
          .ledger()
          .feeds()
          .watched(
              turn.feed().name(),
              new WatchEntry(Instant.now(), name, 0, Optional.empty(), Optional.empty()));
    }
    return turn.soonest(result);
  }

  private void loaded(LoadResult result) {
    metrics.loaded(result, Instant.now().getEpochSecond());
    unclean |= !result.clean();
    listener.scanned(result);
  }

  private void failed(Agenda.Turn turn, Failure failure) {
    Duration wait = agenda.failed(turn, System.nanoTime());
    if (failure.kind() == Failure.Kind.INTERRUPTED && ending()) {
      listener.event(Level.INFO, "stopped", turn.task(), failure.getMessage());
      return;
    }
    lastFailure.set(failure);
    metrics.failed(turn.task());
    int times = agenda.failures(turn.task());
    listener.event(
        Level.ERROR,
        "failure",
        turn.task(),
        "%s%s"
            .formatted(
                failure.getMessage(),
                once ? "" : " Tried again in " + Figures.duration(wait) + "."),
        Map.of("kind", failure.kind().name().toLowerCase(java.util.Locale.ROOT), "times", times));
    try {
      if (workspace.warehouse().lost()) {
        fatal.compareAndSet(null, failure);
        return;
      }
      if (feeds.containsKey(turn.task())) {
        Instant now = Instant.now();
        workspace
            .warehouse()
            .ledger()
            .feeds()
            .watched(
                turn.task(),
                new WatchEntry(
                    now,
                    name,
                    times,
                    Optional.of(failure.getMessage()),
                    Optional.of(now.plus(wait))));
      }
    } catch (Failure again) {
      // The warehouse is what fails: the log has it, and nothing can be written down.
      failure.addSuppressed(again);
    }
  }
}
