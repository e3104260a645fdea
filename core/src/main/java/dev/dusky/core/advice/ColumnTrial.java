package dev.dusky.core.advice;

import dev.dusky.core.bind.ColumnReading;
import dev.dusky.core.feed.FeedColumn;
import java.util.List;
import java.util.Optional;

/** Tries whether a column, declared in another way, would take some values: by reading them so. */
final class ColumnTrial {

  private ColumnTrial() {}

  /** Whether every one of the values would be read. */
  static boolean takes(FeedColumn column, List<String> values) {
    return !values.isEmpty()
        && new ColumnReading(column).read(values).stream().allMatch(Optional::isPresent);
  }
}
