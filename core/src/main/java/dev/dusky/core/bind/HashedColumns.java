package dev.dusky.core.bind;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.repeat.RowHash;
import java.util.List;
import java.util.stream.IntStream;

/** By which of a feed's columns its rows are distinguished. */
public final class HashedColumns {

  private HashedColumns() {}

  /** The key, or all columns that come from the record: its origin is not part of it. */
  public static List<FeedColumn> columns(Feed feed) {
    RepeatPolicy policy = feed.policies().repeats();
    return feed.columns().stream()
        .filter(
            c ->
                policy.key().isEmpty()
                    ? !(c.from() instanceof FieldSource.OfFile) || c.value().isPresent()
                    : policy.key().contains(c.name()))
        .toList();
  }

  /** A hash over rows of the landing table that have these columns alone, for one thread. */
  public static RowHash landedHash(Feed feed) {
    List<FeedColumn> columns = columns(feed);
    return new RowHash(
        IntStream.range(0, columns.size()).boxed().toList(),
        columns.stream().map(FeedColumn::type).toList(),
        !feed.policies().repeats().key().isEmpty());
  }

  /** A hash over a feed's rows, for one thread. */
  static RowHash hash(Feed feed) {
    List<FeedColumn> columns = columns(feed);
    return new RowHash(
        columns.stream().map(feed.columns()::indexOf).toList(),
        columns.stream().map(FeedColumn::type).toList(),
        !feed.policies().repeats().key().isEmpty());
  }
}
