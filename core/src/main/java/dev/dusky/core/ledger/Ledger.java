package dev.dusky.core.ledger;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.warehouse.TableShape;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The books in the warehouse's schema {@code dusky}, as loads write them. */
public interface Ledger {

  /** Makes the schema or brings it up to date. Safe to call from several processes at once. */
  void prepare();

  /** Marks loads as interrupted whose process is gone, and gives their numbers. */
  List<Long> closeInterrupted();

  /**
   * The landing table of a feed, made first if it is not there and the feed says so; nothing if it
   * does not exist.
   */
  Optional<TableShape> landing(Feed feed);

  /** Opens a new load of a feed into its table. */
  RunningLoad begin(LoadStart start, Feed feed, TableShape table);

  /** All that is known of these paths, each path's entries oldest first. */
  Map<String, List<FileEntry>> files(String feed, Collection<String> paths);
}
