package dev.dusky.core.load;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.expect.VolumePolicy;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.vector.ColumnVector;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** Counts the nulls in the good rows of a file, in the columns whose share is watched. Hot. */
final class NullCounts {

  private final List<String> names;
  private final int[] columns;
  private final long[] counts;

  NullCounts(Feed feed) {
    names = feed.policies().expectations().volume().map(VolumePolicy::nulls).orElse(List.of());
    columns =
        names.stream()
            .mapToInt(name -> feed.columns().indexOf(feed.column(name).orElseThrow()))
            .toArray();
    counts = new long[columns.length];
  }

  /** Adds the good rows of a batch. */
  void add(RowBatch batch) {
    for (int i = 0; i < columns.length; i++) {
      ColumnVector vector = batch.columns().get(columns[i]);
      for (int g = 0; g < batch.count(); g++) {
        if (vector.isNull(batch.selected(g))) {
          counts[i]++;
        }
      }
    }
  }

  /** The counts so far, by column. */
  Map<String, Long> counts() {
    Map<String, Long> found = new TreeMap<>();
    for (int i = 0; i < columns.length; i++) {
      found.put(names.get(i), counts[i]);
    }
    return found;
  }
}
