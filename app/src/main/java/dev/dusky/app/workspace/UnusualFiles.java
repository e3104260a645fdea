package dev.dusky.app.workspace;

import dev.dusky.core.expect.Volume;
import dev.dusky.core.expect.VolumePolicy;
import dev.dusky.core.feed.Feed;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;

/** Finds posted files whose volume is unusual, of feeds that say {@code volume:}. */
public final class UnusualFiles {

  private static final int MOST = 1000;

  /**
   * An unusual file.
   *
   * @param words what is unusual about it
   */
  public record Unusual(String feed, Volume volume, String words) {}

  private UnusualFiles() {}

  /** The unusual files of a feed that were posted since then, the newest first. */
  public static List<Unusual> of(Workspace workspace, Feed feed, Instant since) {
    List<Unusual> found = new ArrayList<>();
    if (feed.policies().expectations().volume().isEmpty()) {
      return found;
    }
    List<Volume> all = workspace.warehouse().ledger().volumes(feed.name(), MOST);
    for (int i = 0; i < all.size() && all.get(i).at().isAfter(since); i++) {
      Volume volume = all.get(i);
      volume
          .unusual(all.subList(i + 1, Math.min(all.size(), i + 1 + VolumePolicy.PAST)))
          .ifPresent(words -> found.add(new Unusual(feed.name(), volume, words)));
    }
    return found;
  }
}
