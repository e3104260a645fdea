package dev.dusky.app.watch;

import dev.dusky.app.workspace.FeedStatus;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.watch.Agenda;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.locks.Lock;
import java.util.function.Supplier;

/** Influences a running watcher by its agenda, and feeds by the ledger. */
final class LiveControl implements WatchControl {

  private final Workspace workspace;
  private final List<Feed> feeds;
  private final Agenda agenda;
  private final Lock open;

  /**
   * A control.
   *
   * @param open held while the warehouse is used, so that it is not closed meanwhile
   */
  LiveControl(Workspace workspace, List<Feed> feeds, Agenda agenda, Lock open) {
    this.workspace = workspace;
    this.feeds = feeds;
    this.agenda = agenda;
    this.open = open;
  }

  @Override
  public Optional<Duration> next(String feed) {
    return agenda.until(feed, System.nanoTime());
  }

  @Override
  public int failures(String feed) {
    return agenda.failures(feed);
  }

  @Override
  public void scan(String feed) {
    agenda.hurry(feed, System.nanoTime());
  }

  @Override
  public PauseFeeds.Outcome pause(String feed) {
    return open(() -> new PauseFeeds(workspace).pause(List.of(feed), "on the board").get(0));
  }

  @Override
  public PauseFeeds.Outcome resume(String feed) {
    PauseFeeds.Outcome outcome = open(() -> new PauseFeeds(workspace).resume(List.of(feed)).get(0));
    scan(feed);
    return outcome;
  }

  @Override
  public List<FeedStatus> status() {
    return open(() -> FeedStatus.of(workspace, feeds, Instant.now()));
  }

  private <T> T open(Supplier<T> work) {
    open.lock();
    try {
      return work.get();
    } finally {
      open.unlock();
    }
  }
}
