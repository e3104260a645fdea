package dev.dusky.core.warehouse;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.Promoted;
import dev.dusky.core.type.SqlType;
import java.util.Optional;

/** Moves a field from the leftovers of a landing table into a column. */
public interface Promotions {

  /**
   * Promotes a field. Every value must be one of the column's type, or nothing is changed.
   *
   * @param feed the feed with the columns added to it so far
   * @param field the field's name or path, as the leftovers have it
   * @param named the new column's name; derived from the field if empty
   * @param wanted its type; derived from the values if empty
   */
  Promoted promote(
      LoadStart start, Feed feed, String field, Optional<String> named, Optional<SqlType> wanted);
}
