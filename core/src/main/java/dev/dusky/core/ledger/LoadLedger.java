package dev.dusky.core.ledger;

import dev.dusky.core.expect.Volume;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.GrownColumn;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/** The part of the ledger that a load needs. A rehearsal has one of its kind that keeps nothing. */
public interface LoadLedger {

  /** Opens a new load of a feed. */
  RunningLoad begin(LoadStart start, Feed feed);

  /**
   * The entries of a feed's files from this path on, in the byte order of their paths, each path's
   * entries oldest first.
   *
   * @param most the maximum number of entries; those of the last path may be cut off
   */
  List<FileEntry> filesFrom(String feed, String path, int most);

  /** Whether there is a ledger yet. */
  boolean exists();

  /** The volumes of the files that a feed posted last, the newest first. */
  List<Volume> volumes(String feed, int most);

  /** A posted file of a feed with this content. */
  Optional<FileEntry> twin(String feed, String fingerprint);

  /** The postings in force of a file's path, in the order of loads; without twins. */
  List<PostedRows> inForce(String feed, String path);

  /** The postings in force of a feed, in the order of paths and loads; twins included. */
  List<PostedRows> inForce(String feed);

  /** The columns that were added to a feed, or widened, because its files changed. */
  List<GrownColumn> grown(String feed);

  /**
   * Runs work that changes a feed's columns, one process at a time, and commits it.
   *
   * @param work changes the table and enters the columns, in the transaction that it is given
   */
  <T> T changeColumns(String feed, Function<FeedColumns, T> work);

  /** Who has paused the feed and why, if anybody has. */
  Optional<String> pause(String feed);

  /** Posted files of the feed that are not yet archived or removed as its policy says. */
  List<DueFile> due(String feed);

  /**
   * Does what is due for these files, each only if no other process does, and marks it as done.
   *
   * @param work archives or removes a file, and returns it with its final path; a file for which it
   *     returns nothing stays due
   */
  void settleDue(List<DueFile> files, Function<DueFile, Optional<DueFile>> work);
}
