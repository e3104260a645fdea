package dev.dusky.app.config;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.table.Arrangement;
import dev.dusky.core.table.PartitionField;
import dev.dusky.core.table.SortField;
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

  /** Reports what only such tables have. */
  static void none(Section section, Feed feed) {
    Arrangement arrangement = feed.policies().arrangement();
    if (!arrangement.partition().isEmpty()) {
      section.problem("partition", "only tables in object storage are divided by partition");
    }
    if (!arrangement.sort().isEmpty()) {
      section.problem("sort", "only tables in object storage are sorted");
    }
    feed.columns().stream()
        .filter(column -> column.type().isNested())
        .forEach(
            column ->
                section.problem(
                    "columns",
                    "column %s: only tables in object storage have nested columns; without nested it is kept as json"
                        .formatted(column.name())));
  }

  private Optional<FeedColumn> column(String key, Object field, String name) {
    Optional<FeedColumn> column = feed.column(name);
    if (column.isEmpty()) {
      section.problem(
          key,
          "%s: the feed has no column %s%s"
              .formatted(
                  field,
                  name,
                  NearestName.of(name, feed.columns().stream().map(FeedColumn::name).toList())
                      .map("; did you mean %s?"::formatted)
                      .orElse("")));
    }
    return column;
  }

  void run() {
    for (PartitionField field : feed.policies().arrangement().partition()) {
      column("partition", field, field.column())
          .flatMap(c -> field.unfit(c.type()))
          .ifPresent(why -> section.problem("partition", why));
    }
    for (SortField field : feed.policies().arrangement().sort()) {
      column("sort", field, field.column())
          .flatMap(c -> field.unfit(c.type()))
          .ifPresent(why -> section.problem("sort", why));
    }
    if (!feed.policies().arrangement().sort().isEmpty()
        && feed.policies().repeats().scope() == RepeatPolicy.Scope.TABLE) {
      section.problem(
          "sort", "repeats with scope: table need the rows in the order in which they landed");
    }
    RepeatPolicy repeats = feed.policies().repeats();
    for (FeedColumn column : feed.columns()) {
      column
          .type()
          .scalars()
          .filter(LakeCheck::tooLong)
          .findFirst()
          .ifPresent(
              type ->
                  section.problem(
                      "columns",
                      "column %s is %s; tables in object storage hold decimals of up to %d digits"
                          .formatted(column.name(), type, MOST_DIGITS)));
      boolean compared =
          repeats.scope() == RepeatPolicy.Scope.TABLE && repeats.key().contains(column.name());
      if (compared && column.type().isNested()) {
        section.problem(
            "repeats",
            "the nested column %s cannot be compared in the table".formatted(column.name()));
      }
    }
  }

  private static boolean tooLong(SqlType type) {
    return type.kind() == TypeKind.DECIMAL && type.precision() > MOST_DIGITS;
  }
}
