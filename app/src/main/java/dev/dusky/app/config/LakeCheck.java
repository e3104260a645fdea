package dev.dusky.app.config;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.table.PartitionField;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.util.Optional;

/** Reports what a feed asks for that tables in object storage do not have. */
final class LakeCheck {

  /** The greatest precision of decimals in such tables. */
  private static final int MOST_DIGITS = 38;

  private final Section section;
  private final Feed feed;

  LakeCheck(Section section, Feed feed) {
    this.section = section;
    this.feed = feed;
  }

  void run() {
    for (PartitionField field : feed.policies().partition()) {
      Optional<FeedColumn> column = feed.column(field.column());
      if (column.isEmpty()) {
        section.problem(
            "partition",
            "%s: the feed has no column %s%s"
                .formatted(
                    field,
                    field.column(),
                    NearestName.of(
                            field.column(), feed.columns().stream().map(FeedColumn::name).toList())
                        .map("; did you mean %s?"::formatted)
                        .orElse("")));
      }
      column
          .flatMap(c -> field.unfit(c.type()))
          .ifPresent(why -> section.problem("partition", why));
    }
    for (FeedColumn column : feed.columns()) {
      SqlType type = column.type();
      if (type.kind() == TypeKind.DECIMAL && type.precision() > MOST_DIGITS) {
        section.problem(
            "columns",
            "column %s is %s; tables in object storage hold decimals of up to %d digits"
                .formatted(column.name(), type, MOST_DIGITS));
      }
    }
  }
}
