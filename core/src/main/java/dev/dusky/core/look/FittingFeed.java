package dev.dusky.core.look;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
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
      double share = feed.name().equals(other.name()) ? 0 : share(depot, file, feed);
      if (share >= most && (best == null || share > most)) {
        best = feed;
        most = share;
      }
    }
    return Optional.ofNullable(best).map(Feed::name);
  }

  private static double share(Depot depot, StagedFile file, Feed feed) {
    try {
      Look look = Look.at(depot, file, feed, LookMode.FIRST, RECORDS, 1);
      boolean none = look.refusal().isPresent() || look.read() == 0;
      return none ? 0 : 1 - (double) look.rejected() / look.read();
    } catch (Failure | IOException e) {
      return 0; // whatever it is, the file does not fit
    }
  }
}
