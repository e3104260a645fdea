package dev.dusky.core.preview;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.XmlLayout;
import dev.dusky.core.load.FeedFinder;
import java.io.IOException;
import java.util.List;
import java.util.Optional;

/**
 * Finds the feed that a file really belongs to, by reading its first records as each of them would.
 *
 * @param feeds the feeds that it may belong to
 */
public record FittingFeed(List<Feed> feeds) implements FeedFinder {

  private static final int RECORDS = 100;

  public FittingFeed {
    feeds = List.copyOf(feeds);
  }

  /** The feed, other than that one, that reads at least nine in ten of the first records. */
  @Override
  public Optional<String> find(Depot depot, StagedFile file, Feed other) {
    Feed best = null;
    double most = 0.9;
    for (Feed feed : feeds) {
      boolean asked = !feed.name().equals(other.name()) && choosy(feed);
      double share = asked ? share(depot, file, feed) : 0;
      if (share >= most && (best == null || share > most)) {
        best = feed;
        most = share;
      }
    }
    return Optional.ofNullable(best).map(Feed::name);
  }

  /**
   * Whether a feed turns files of others away at all. That one reads whatever there is well says
   * nothing.
   */
  private static boolean choosy(Feed feed) {
    List<FeedColumn> columns =
        feed.columns().stream().filter(c -> !(c.from() instanceof FieldSource.OfFile)).toList();
    boolean typed = columns.stream().anyMatch(c -> !c.type().kind().isText());
    boolean needed = columns.stream().anyMatch(FeedColumn::notNull);
    if (feed.layout() instanceof DelimitedLayout delimited) {
      return delimited.header() == HeaderUse.NAMES || typed;
    }
    if (feed.layout() instanceof JsonLayout || feed.layout() instanceof XmlLayout) {
      return needed;
    }
    return typed || !(feed.layout() instanceof FixedLayout);
  }

  private static double share(Depot depot, StagedFile file, Feed feed) {
    try {
      Preview look = Preview.at(depot, file, feed, PreviewMode.FIRST, RECORDS, 1);
      boolean none = look.refusal().isPresent() || look.read() == 0;
      return none ? 0 : 1 - (double) look.rejected() / look.read();
    } catch (Failure | IOException e) {
      return 0; // whatever it is, the file does not fit
    }
  }
}
