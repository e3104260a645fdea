package dev.dusky.core.watch;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;

/**
 * The notified paths, by feed; each once, however often it was notified. It is bounded: what does
 * not fit is found when the depot is listed. Safe for use by several threads.
 */
public final class Inbox {

  private final int most;
  private final Map<String, TreeSet<String>> paths = new HashMap<>();

  /** An inbox for at most that many paths of each feed. */
  public Inbox(int most) {
    this.most = most;
  }

  /** Notes a path; false if there is no room for it. */
  public synchronized boolean add(String feed, String path) {
    TreeSet<String> known = paths.computeIfAbsent(feed, f -> new TreeSet<>());
    return known.contains(path) || known.size() < most && known.add(path);
  }

  /** Takes a feed's paths out. */
  public synchronized List<String> take(String feed) {
    TreeSet<String> known = paths.remove(feed);
    return known == null ? List.of() : List.copyOf(known);
  }
}
