package dev.dusky.bench;

import java.util.Arrays;

/**
 * Two things measured in turn.
 *
 * @param what the one
 * @param against the other
 * @param median the median of the ratios pair by pair
 * @param least the least of them
 * @param greatest the greatest of them
 * @param pairs how many pairs were measured
 */
record Ratio(String what, String against, double median, double least, double greatest, int pairs) {

  static Ratio of(String what, String against, double[] ratios) {
    double[] sorted = ratios.clone();
    Arrays.sort(sorted);
    return new Ratio(
        what,
        against,
        sorted[sorted.length / 2],
        sorted[0],
        sorted[sorted.length - 1],
        sorted.length);
  }
}
