package dev.dusky.core.advice;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.FieldPlan;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.record.RecordAppender;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.warehouse.TableName;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Tries whether a column, declared in another way, would take some values: by reading them so. */
final class ColumnTrial {

  private ColumnTrial() {}

  /** Whether every one of the values would be read. */
  static boolean takes(FeedColumn column, List<String> values) {
    FeedColumn alone =
        new FeedColumn(
            column.name(),
            column.type(),
            column.notNull(),
            new FieldSource.Next(),
            column.pattern(),
            column.zone(),
            column.marks(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty());
    Feed feed =
        new Feed(
            "trial",
            "trial",
            FilePattern.of("trial"),
            new ColumnarLayout("trial", ColumnarLayout.Format.AVRO, List.of(), 1 << 20),
            new TableName("trial", "trial"),
            false,
            List.of(alone),
            Optional.empty(),
            List.of(),
            FeedPolicies.DEFAULT);
    Binder binder =
        new Binder(feed, FieldPlan.of(feed, "trial", List.of()), new FileFacts(Map.of()), false);
    RowBatch rows = binder.newBatch();
    RecordAppender appender = new RecordAppender(1 << 20);
    RecordBatch batch = new RecordBatch(1 << 10);
    appender.begin(batch);
    for (String value : values) {
      appender.record(new byte[0], 0, 0);
      appender.field(value);
      appender.end(1, 0);
    }
    binder.bind(batch, rows);
    return !values.isEmpty() && rows.rejected() == 0;
  }
}
