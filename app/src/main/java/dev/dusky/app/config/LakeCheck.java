package dev.dusky.app.config;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;

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
    if (feed.policies().repeats().scope() == RepeatPolicy.Scope.TABLE) {
      section.problem(
          "repeats",
          "repeats cannot be looked for in a table in object storage: use the scope file or load");
    }
    if (feed.policies().replaces()) {
      section.problem("mode", "loads cannot replace what is in a table in object storage");
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
