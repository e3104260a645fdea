package dev.dusky.app.journal;

import dev.dusky.app.workspace.FeedStatus;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FeedEntries;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.load.KnownFile;
import dev.dusky.core.load.KnownFiles;
import java.time.Instant;
import java.util.Collection;
import java.util.Iterator;
import java.util.List;
import java.util.Locale;

/** Lists feeds' files with their states. */
public final class ListFiles {

  private final Workspace workspace;

  /** Files of that workspace. */
  public ListFiles(Workspace workspace) {
    this.workspace = workspace;
  }

  /** The feeds with these names, or all. */
  public List<Feed> feeds(List<String> names) {
    return workspace.configuration().feedsOrAll(names);
  }

  /** The files of a feed, in the order of their paths. */
  public Iterator<KnownFile> of(Feed feed) {
    return new KnownFiles(
        workspace.warehouse().ledger(), workspace.depot(feed), feed, Instant.now());
  }

  /** How feeds are. */
  public List<FeedStatus> status(List<Feed> feeds, Instant now) {
    return FeedStatus.of(workspace, feeds, now);
  }

  /** The number of file versions of these feeds that were ever processed. */
  public long processed(Collection<String> feeds) {
    FeedEntries entries = workspace.warehouse().ledger().feeds();
    return feeds.stream().mapToLong(entries::dealtWith).sum();
  }

  /** The state that an option gives. */
  public static FileState state(String word) {
    for (FileState candidate : FileState.values()) {
      if (candidate.label().equals(word.toLowerCase(Locale.ROOT))) {
        return candidate;
      }
    }
    throw Failure.usage("There is no state '" + word + "'")
        .hint("It is one of waiting, posted, refused, twin, revised, reversed, missing");
  }
}
