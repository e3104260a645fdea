package dev.dusky.cli.board;

import dev.dusky.app.watch.WatchEvent;
import java.time.Duration;
import java.time.Instant;
import java.util.List;

/**
 * The board at one moment.
 *
 * @param now the moment
 * @param open how long the board has been open
 * @param feeds a view of each feed, in the order of the configuration
 * @param events the last events, the latest last
 */
record BoardView(Instant now, Duration open, List<FeedView> feeds, List<WatchEvent> events) {

  /** What was loaded since the board opened, in all feeds. */
  FeedView.Since since() {
    return feeds.stream().map(FeedView::since).reduce(FeedView.Since.NOTHING, FeedView.Since::plus);
  }
}
