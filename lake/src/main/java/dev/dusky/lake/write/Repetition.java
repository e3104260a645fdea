package dev.dusky.lake.write;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.VectorText;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/**
 * Which columns repeat their values so rarely that a dictionary costs more time than it saves
 * space: those of which most values of a sample are different. The library tries a dictionary on
 * all columns and gives it up only when it has become large.
 */
final class Repetition {

  /** How many rows are looked at. */
  static final int SAMPLE = 1_000;

  /** With fewer values nothing is known of a column. */
  private static final int LEAST = 500;

  private Repetition() {}

  /**
   * The names of the columns that are written without a dictionary.
   *
   * @param columns the columns of some rows of the feed
   * @param rows the rows' places in them
   */
  static List<String> rare(Feed feed, List<ColumnVector> columns, int[] rows, int from, int to) {
    List<String> rare = new ArrayList<>();
    rare.add(Provenance.ROW);
    int step = Math.max(1, (to - from) / SAMPLE);
    for (int c = 0; c < feed.columns().size(); c++) {
      FeedColumn column = feed.columns().get(c);
      if (!column.type().isNested() && isRare(column, columns.get(c), rows, from, to, step)) {
        rare.add(column.name());
      }
    }
    return rare;
  }

  private static boolean isRare(
      FeedColumn column, ColumnVector vector, int[] rows, int from, int to, int step) {
    Set<String> values = new HashSet<>();
    int count = 0;
    for (int i = from; i < to; i += step) {
      if (!vector.isNull(rows[i])) {
        count++;
        values.add(VectorText.text(column.type(), vector, rows[i]));
      }
    }
    return count >= LEAST && values.size() * 2 > count;
  }
}
