package dev.dusky.core.drift;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.table.TableShape;
import java.util.List;

/**
 * How a landing table has to grow so that a file fits.
 *
 * @param columns the new columns, and the wider types of those that are there
 * @param drifts what of the file asks for it, in the same order
 */
public record Growth(List<GrownColumn> columns, List<Drift> drifts) {

  /**
   * A feed and its table after they grew.
   *
   * @param feed the feed with its new columns
   * @param table the table
   * @param drifts what was done, with the statements that ran
   */
  public record Result(Feed feed, TableShape table, List<Drift> drifts) {}
}
