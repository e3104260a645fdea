package dev.dusky.formats;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;

/** Divides columns among threads: the heaviest first, each to the thread with the least so far. */
final class ColumnShares {

  private ColumnShares() {}

  /**
   * The numbers of the columns of each share, in order; at least one share, none of them empty
   * unless there are no columns.
   *
   * @param weights how much work each column is
   * @param leaders for each column the first with which it must stay together, or itself
   */
  static List<int[]> of(long[] weights, int[] leaders, int most) {
    long[] together = new long[weights.length];
    for (int c = 0; c < weights.length; c++) {
      together[leaders[c]] += weights[c];
    }
    long[] load = new long[most];
    int[] shareOf = new int[weights.length];
    IntStream.range(0, weights.length)
        .filter(c -> leaders[c] == c)
        .boxed()
        .sorted(Comparator.comparing((Integer c) -> -together[c]))
        .forEach(
            c -> {
              int lightest = 0;
              for (int s = 1; s < most; s++) {
                lightest = load[s] < load[lightest] ? s : lightest;
              }
              load[lightest] += Math.max(1, together[c]);
              shareOf[c] = lightest;
            });
    List<int[]> shares = new ArrayList<>();
    for (int s = 0; s < most; s++) {
      int share = s;
      int[] columns =
          IntStream.range(0, weights.length).filter(c -> shareOf[leaders[c]] == share).toArray();
      if (columns.length > 0 || s == 0) {
        shares.add(columns);
      }
    }
    return shares;
  }
}
