package dev.dusky.core.watch;

import java.time.Duration;

/**
 * How long to wait before something that failed is tried again: twice as long after each failure.
 *
 * @param first after the first failure
 * @param most the longest wait
 */
public record Backoff(Duration first, Duration most) {

  /** A second at first, five minutes at most. */
  public static final Backoff DEFAULT = new Backoff(Duration.ofSeconds(1), Duration.ofMinutes(5));

  /** The wait after that many failures in a row, at least one. */
  public Duration wait(int failures) {
    Duration wait = first.multipliedBy(1L << Math.min(failures - 1, 30));
    return wait.compareTo(most) > 0 ? most : wait;
  }
}
