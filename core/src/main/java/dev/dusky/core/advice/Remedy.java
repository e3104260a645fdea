package dev.dusky.core.advice;

import dev.dusky.core.feed.FeedColumn;
import java.util.List;
import java.util.Optional;

/**
 * One remedy of a problem.
 *
 * @param text what to do, a sentence without a full stop
 * @param statements SQL to run on the warehouse
 * @param column the feed's column as it should be declared
 * @param layoutKey the key of the layout to set, as {@code key: value}
 */
public record Remedy(
    String text, List<String> statements, Optional<FeedColumn> column, Optional<String> layoutKey) {

  /** A remedy in words only. */
  static Remedy of(String text) {
    return new Remedy(text, List.of(), Optional.empty(), Optional.empty());
  }

  /** The same with SQL. */
  Remedy sql(String... lines) {
    return new Remedy(text, List.of(lines), column, layoutKey);
  }

  /** The same with a changed column. */
  Remedy column(FeedColumn changed) {
    return new Remedy(text, statements, Optional.of(changed), layoutKey);
  }

  /** The same with a changed layout. */
  Remedy layout(String key) {
    return new Remedy(text, statements, column, Optional.of(key));
  }
}
