package dev.dusky.lake.read;

import dev.dusky.core.table.ProvenanceKey;
import java.util.Collection;
import java.util.NavigableMap;
import java.util.TreeMap;
import java.util.TreeSet;

/** Postings whose rows are looked for. */
public final class PostingSet {

  /** How many rows of a data file belong to the postings. */
  public enum Share {
    NONE,
    ALL,
    /** Only its rows can show. */
    UNKNOWN
  }

  private final NavigableMap<Long, TreeSet<Long>> files = new TreeMap<>();

  /** A set of these. */
  public PostingSet(Collection<ProvenanceKey> keys) {
    keys.forEach(
        key -> files.computeIfAbsent(key.loadId(), load -> new TreeSet<>()).add(key.fileId()));
  }

  /** Whether it has the posting of a file by a load. */
  public boolean has(long load, long file) {
    TreeSet<Long> of = files.get(load);
    return of != null && of.contains(file);
  }

  /** What the statistics of a data file say. */
  public Share share(PostingBounds bounds) {
    if (bounds.single()) {
      return has(bounds.lowLoad(), bounds.lowFile()) ? Share.ALL : Share.NONE;
    }
    for (TreeSet<Long> of :
        files.subMap(bounds.lowLoad(), true, bounds.highLoad(), true).values()) {
      Long next = of.ceiling(bounds.lowFile());
      if (next != null && next <= bounds.highFile()) {
        return Share.UNKNOWN;
      }
    }
    return Share.NONE;
  }
}
