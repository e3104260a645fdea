package dev.dusky.cli.board;

import dev.dusky.app.watch.WatchControl;
import dev.dusky.app.watch.WatchEvent;
import dev.dusky.app.watch.WatchListener;
import dev.dusky.app.workspace.FeedStatus;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.Pause;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** What is known of the watched feeds, collected from the watcher's calls. */
final class BoardState implements WatchListener {

  /** Events that are kept. */
  private static final int EVENTS = 500;

  private final Instant opened = Instant.now();
  private final Map<String, FeedProgress> feeds = new LinkedHashMap<>();
  private final Deque<WatchEvent> events = new ArrayDeque<>();
  private final Deque<WatchEvent> notable = new ArrayDeque<>();
  private volatile Optional<WatchListener> also = Optional.empty();
  private volatile Optional<WatchControl> control = Optional.empty();

  BoardState(List<Feed> watched) {
    watched.forEach(feed -> feeds.put(feed.name(), new FeedProgress(feed)));
  }

  /** Passes each further event to this listener too. */
  void alsoTo(WatchListener listener) {
    also = Optional.of(listener);
  }

  @Override
  public void event(WatchEvent event) {
    FeedProgress feed = feeds.get(event.name());
    if (event.kind().equals("failure") && feed != null) {
      feed.failed(event.text());
    }
    also.ifPresent(listener -> listener.event(event));
    synchronized (events) {
      add(events, event);
      if (event.level() != WatchEvent.Level.INFO) {
        notable.removeIf(earlier -> repeats(event, earlier)); // a retry replaces the one before
        add(notable, event);
      }
    }
  }

  private static boolean repeats(WatchEvent event, WatchEvent earlier) {
    return event.kind().equals("failure")
        && earlier.kind().equals("failure")
        && earlier.name().equals(event.name());
  }

  private static void add(Deque<WatchEvent> to, WatchEvent event) {
    to.addLast(event);
    if (to.size() > EVENTS) {
      to.removeFirst();
    }
  }

  /** The last events that need attention, the latest last. */
  List<WatchEvent> notable() {
    synchronized (events) {
      return List.copyOf(notable);
    }
  }

  @Override
  public void begun(WatchControl given) {
    control = Optional.of(given);
  }

  /** The watcher, once it runs. */
  Optional<WatchControl> control() {
    return control;
  }

  @Override
  public LoadListener scanning(String feed) {
    FeedProgress progress = feeds.get(feed);
    progress.scanning();
    return progress;
  }

  @Override
  public void scanned(LoadResult result) {
    feeds.get(result.feed()).scanned(result);
  }

  /** Takes what listings found. */
  void status(List<FeedStatus> found) {
    found.forEach(status -> feeds.get(status.feed()).status(status));
  }

  /** Takes the pause that a key has set; none if it was resumed. */
  void paused(String feed, Optional<Pause> pause) {
    feeds.get(feed).paused(pause);
  }

  BoardView view(Instant now) {
    List<FeedView> views = new ArrayList<>();
    feeds.forEach(
        (name, feed) ->
            views.add(
                feed.view(
                    control.flatMap(c -> c.next(name)),
                    control.map(c -> c.failures(name)).orElse(0))));
    synchronized (events) {
      return new BoardView(now, Duration.between(opened, now), views, List.copyOf(events));
    }
  }
}
