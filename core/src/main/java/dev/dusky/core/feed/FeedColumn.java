package dev.dusky.core.feed;

import dev.dusky.core.type.NumberMarks;
import dev.dusky.core.type.SqlType;
import java.time.ZoneId;
import java.util.Optional;

/**
 * One column of a feed.
 *
 * @param name its name in the landing table
 * @param type its type
 * @param notNull whether a missing value makes a reject
 * @param from where the value stands in a record
 * @param pattern the declared form of dates, times, booleans or binary data
 * @param zone the zone of timestamps that carry no offset
 * @param marks the marks in numbers
 * @param defaultText the text taken when there is no value
 */
public record FeedColumn(
    String name,
    SqlType type,
    boolean notNull,
    FieldSource from,
    Optional<String> pattern,
    Optional<ZoneId> zone,
    NumberMarks marks,
    Optional<String> defaultText) {

  /** A column with nothing special about it, found under its own name or in the next field. */
  public static FeedColumn plain(String name, SqlType type, boolean notNull) {
    return new FeedColumn(
        name,
        type,
        notNull,
        new FieldSource.Next(),
        Optional.empty(),
        Optional.empty(),
        NumberMarks.PLAIN,
        Optional.empty());
  }
}
