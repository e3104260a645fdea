package dev.dusky.core.bind;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.record.RecordAppender;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.table.TableName;
import dev.dusky.core.vector.VectorText;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Reads texts as a column would, each by itself. Not safe for use by several threads. */
public final class ColumnReading {

  private final FeedColumn column;
  private final Binder binder;
  private final RowBatch rows;

  /** The reading of a column; its defaults, expressions and checks are left aside. */
  public ColumnReading(FeedColumn declared) {
    column =
        new FeedColumn(
            declared.name(),
            declared.type(),
            declared.notNull(),
            new FieldSource.Next(),
            declared.pattern(),
            declared.zone(),
            declared.marks(),
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
            List.of(column),
            Optional.empty(),
            List.of(),
            FeedPolicies.DEFAULT);
    binder =
        new Binder(feed, FieldPlan.of(feed, "trial", List.of()), new FileFacts(Map.of()), false);
    rows = binder.newBatch();
  }

  /** The values in the form in which every database takes them; nothing for what cannot be read. */
  public List<Optional<String>> read(List<String> values) {
    RecordAppender appender = new RecordAppender(1 << 20);
    RecordBatch batch = new RecordBatch(1 << 10);
    appender.begin(batch);
    for (String value : values) {
      appender.record(new byte[0], 0, 0);
      appender.field(value);
      appender.end(1, 0);
    }
    binder.bind(batch, rows);
    List<Optional<String>> result =
        new ArrayList<>(Collections.nCopies(values.size(), Optional.empty()));
    for (int i = 0; i < rows.count(); i++) {
      int row = rows.selected(i);
      if (!rows.columns().get(0).isNull(row)) {
        result.set(row, Optional.of(VectorText.text(column.type(), rows.columns().get(0), row)));
      }
    }
    return result;
  }
}
