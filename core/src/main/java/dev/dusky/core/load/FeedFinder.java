package dev.dusky.core.load;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.feed.Feed;
import java.util.Optional;

/** Finds the feed that a file belongs to when it is not the one that tried to read it. */
@FunctionalInterface
public interface FeedFinder {

  /** Nobody to ask. */
  FeedFinder NONE = (depot, file, tried) -> Optional.empty();

  /** The name of a feed, other than the one that tried, that reads the file well. */
  Optional<String> find(Depot depot, StagedFile file, Feed tried);
}
