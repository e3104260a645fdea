package dev.dusky.core.bind;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.table.TableName;
import dev.dusky.core.type.NumberMarks;
import dev.dusky.core.type.SqlType;
import java.util.List;
import java.util.Optional;

/** Feeds for tests. */
final class TestFeeds {

  private TestFeeds() {}

  static Feed of(Layout layout, List<String> ignore, FeedColumn... columns) {
    return new Feed(
        "collections",
        "yard",
        FilePattern.of("*.csv"),
        layout,
        new TableName("intake", "collection"),
        false,
        List.of(columns),
        Optional.empty(),
        ignore,
        FeedPolicies.DEFAULT.withRejectCap(100));
  }

  static FeedColumn column(String name, String type) {
    boolean notNull = type.endsWith(" not null");
    return FeedColumn.plain(
        name, SqlType.parse(type.replace(" not null", "")).orElseThrow(), notNull);
  }

  static FeedColumn from(FeedColumn c, FieldSource from) {
    return c.withFrom(from);
  }

  static FeedColumn withDefault(FeedColumn c, String text) {
    return c.withDefault(text);
  }

  static FeedColumn marked(FeedColumn c, char decimal, String group) {
    return c.withMarks(new NumberMarks(decimal, group));
  }

  static FeedColumn pattern(FeedColumn c, String pattern) {
    return c.withPattern(pattern);
  }
}
