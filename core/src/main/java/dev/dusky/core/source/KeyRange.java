package dev.dusky.core.source;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A range of the key by which a source is sliced; the whole of it if neither end is given.
 *
 * @param from the first key, unless there is none before
 * @param to the first key behind it, unless there is none; rows without a key belong to the last
 */
public record KeyRange(Optional<Long> from, Optional<Long> to) {

  /** All rows. */
  public static final KeyRange ALL = new KeyRange(Optional.empty(), Optional.empty());

  /** Cuts the keys into ranges of about the same width. */
  static List<KeyRange> cut(long least, long greatest, int number) {
    List<KeyRange> ranges = new ArrayList<>();
    double width = ((double) greatest - least) / number;
    Optional<Long> from = Optional.empty();
    for (int i = 1; i < number; i++) {
      long to = least + Math.round(width * i);
      if (from.isEmpty() || to > from.get()) {
        ranges.add(new KeyRange(from, Optional.of(to)));
        from = Optional.of(to);
      }
    }
    ranges.add(new KeyRange(from, Optional.empty()));
    return ranges;
  }
}
