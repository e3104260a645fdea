package dev.dusky.cli.board;

import dev.dusky.app.watch.PauseFeeds;
import dev.dusky.app.watch.WatchControl;
import dev.dusky.app.watch.WatchEvent;
import dev.dusky.app.watch.WatchListener;
import dev.dusky.app.watch.WatchLog;
import dev.dusky.cli.render.Style;
import dev.dusky.core.concurrent.Worker;
import dev.dusky.core.feed.Feed;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.ScheduledThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import org.jline.terminal.Terminal;

/**
 * The board of a watcher on a terminal: it shows the feeds and takes keys until it is closed. What
 * the program prints meanwhile to its error stream becomes an event.
 */
public final class Board implements AutoCloseable {

  /** How often depots are listed for the board, besides the watcher's scans. */
  private static final Duration LISTED_EVERY = Duration.ofMinutes(1);

  /** Listings take at most this part of the time. */
  private static final int LISTING_SHARE = 20;

  private static final long SOON_MILLIS = 100;
  private static final long PATIENCE_SECONDS = 5;
  private static final int NOTABLE_SHOWN = 10;

  private final List<Feed> feeds;
  private final Style style;
  private final BoardState state;
  private final BoardScreen screen;
  private final Terminal terminal;
  private final PrintStream out;
  private final PrintStream err = System.err;
  private final Worker shown;
  private final ScheduledThreadPoolExecutor later =
      new ScheduledThreadPoolExecutor(
          2,
          work -> {
            Thread thread = new Thread(work, "dusky-board-work");
            thread.setDaemon(true);
            return thread;
          });
  private volatile boolean quitting;

  /**
   * Opens a board for these feeds on a terminal.
   *
   * @param terminal is closed with the board
   * @param out receives a summary when the board is closed
   */
  public Board(List<Feed> feeds, Terminal terminal, Style style, PrintStream out) {
    this.terminal = terminal;
    this.out = out;
    this.feeds = feeds;
    this.style = style;
    this.state = new BoardState(feeds);
    this.screen = new BoardScreen(terminal, style, state, this::key);
    this.shown = new Worker("dusky-board", this::show);
    later.setExecuteExistingDelayedTasksAfterShutdownPolicy(false);
    System.setErr(new PrintStream(new EventStream(state), true, StandardCharsets.UTF_8));
    shown.start();
    later.execute(this::list);
  }

  /** Receives what the watcher reports. */
  public WatchListener listener() {
    return state;
  }

  /** Whether the person asked to end. */
  public boolean quitting() {
    return quitting;
  }

  /** Shows the screen; if that fails, events are written as lines and watching continues. */
  private void show() {
    try {
      screen.run();
    } catch (RuntimeException e) {
      state.alsoTo(new WatchLog(out, false));
      state.event(
          WatchEvent.Level.ERROR, "board", "", "The board cannot be shown; lines follow: " + e);
    }
  }

  private void key(BoardKey key, int chosen) {
    if (key == BoardKey.QUIT) {
      quitting = true;
      state.event(WatchEvent.Level.INFO, "end", "", "stopping; what is unfinished is rolled back");
      return;
    }
    String feed = feeds.get(chosen).name();
    state.control().ifPresent(control -> later.execute(() -> act(key, feed, control)));
  }

  private void act(BoardKey key, String feed, WatchControl control) {
    try {
      switch (key) {
        case SCAN -> {
          control.scan(feed);
          state.event(WatchEvent.Level.INFO, "scan", feed, "scanned as soon as a thread is free");
        }
        case PAUSE -> {
          PauseFeeds.Outcome outcome = control.pause(feed);
          state.paused(feed, outcome.pause());
          said(outcome, "paused for every process", "is paused already");
        }
        case RESUME -> {
          PauseFeeds.Outcome outcome = control.resume(feed);
          state.paused(feed, Optional.empty());
          said(outcome, "resumed", "was not paused");
        }
        default -> {}
      }
      listNow();
    } catch (RuntimeException e) {
      state.event(WatchEvent.Level.ERROR, "key", feed, String.valueOf(e.getMessage()));
    }
  }

  private void said(PauseFeeds.Outcome outcome, String changed, String unchanged) {
    state.event(
        WatchEvent.Level.INFO, "pause", outcome.feed(), outcome.changed() ? changed : unchanged);
  }

  /** Lists the depots, and plans the next listing so that they stay a small part of the time. */
  private void list() {
    if (state.control().isEmpty()) {
      later.schedule(this::list, SOON_MILLIS, TimeUnit.MILLISECONDS);
      return;
    }
    long began = System.nanoTime();
    listNow();
    long took = (System.nanoTime() - began) / 1_000_000;
    later.schedule(
        this::list, Math.max(LISTED_EVERY.toMillis(), took * LISTING_SHARE), TimeUnit.MILLISECONDS);
  }

  private void listNow() {
    try {
      state.status(state.control().orElseThrow().status());
    } catch (RuntimeException e) {
      state.event(WatchEvent.Level.ERROR, "status", "", String.valueOf(e.getMessage()));
    }
  }

  /** Takes the board away, and leaves below what needs attention. */
  @Override
  public void close() {
    later.shutdown();
    screen.end();
    shown.join();
    closeTerminal();
    System.setErr(err);
    try {
      later.awaitTermination(PATIENCE_SECONDS, TimeUnit.SECONDS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
    List<WatchEvent> notable = state.notable();
    int left = Math.max(0, notable.size() - NOTABLE_SHOWN);
    BoardText text = new BoardText(style, state.view(Instant.now()));
    out.println(text.since());
    if (left > 0) {
      out.println("%d earlier events needed attention: dusky journal".formatted(left));
    }
    notable
        .subList(left, notable.size())
        .forEach(event -> out.println(BoardText.event(style, event)));
  }

  private void closeTerminal() {
    try {
      terminal.close();
    } catch (IOException e) {
      out.println("the terminal could not be closed: " + e.getMessage());
    }
  }
}
