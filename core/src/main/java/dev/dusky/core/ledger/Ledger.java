package dev.dusky.core.ledger;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.table.TableShape;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

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

  /**
   * What is known of a feed's files from this path on, in the order of their paths' bytes, each
   * path's entries oldest first.
   *
   * @param most at most so many entries; a path's may be cut off
   */
  List<FileEntry> filesFrom(String feed, String path, int most);

  /** The columns that came to a feed, or became wider, because its files changed. */
  List<GrownColumn> grown(String feed);

  /** Who holds the feed and why, if anybody does. */
  Optional<String> pause(String feed);

  /** Files of the feed that are posted but not yet moved or removed as it says. */
  List<DueFile> due(String feed);

  /**
   * Does what is due about these files, each while nobody else does, and marks it as done.
   *
   * @param work moves or removes a file, and gives it as it was dealt with, under the path that it
   *     has now; what it gives nothing for stays due
   */
  void settleDue(List<DueFile> files, Function<DueFile, Optional<DueFile>> work);
}
