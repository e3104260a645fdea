package dev.dusky.core.draft;

import dev.dusky.core.feed.Feed;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A feed as a sample of its files suggests it.
 *
 * @param feed the feed, ready to load
 * @param evidence why it is so
 * @param columns what was seen of each column, by name
 * @param keys columns whose every value in the sample is there and different
 * @param paths for nested data: all paths
 * @param files how many files were looked at
 * @param read how many records of the sample were read with this draft
 * @param rejected how many of them it would reject
 */
public record FeedDraft(
    Feed feed,
    List<Evidence> evidence,
    Map<String, String> columns,
    List<String> keys,
    Optional<PathStatistics> paths,
    int files,
    long read,
    long rejected) {

  /** The same with more evidence. */
  public FeedDraft withEvidence(List<Evidence> more) {
    List<Evidence> all = new ArrayList<>(evidence);
    all.addAll(more);
    return new FeedDraft(feed, all, columns, keys, paths, files, read, rejected);
  }
}
