package dev.dusky.core.report;

import java.time.Instant;

/**
 * What was settled of a feed within a quarter of an hour.
 *
 * @param slot the quarter, counted from 1970 (UTC)
 * @param files posted files
 * @param refused attempts that ended with a refused file
 * @param twins files whose content was posted before
 * @param read rows read of posted files and mended rejects; it is the sum of the next four
 * @param reversed rows that left the table again
 * @param bytes stored bytes of posted files
 * @param millis how long their attempts took in all
 */
public record Settled(
    String feed,
    long slot,
    long files,
    long refused,
    long twins,
    long read,
    long loaded,
    long duplicate,
    long rejected,
    long filtered,
    long reversed,
    long bytes,
    long millis) {

  /** How long a slot is. */
  public static final int SECONDS = 900;

  /** When the slot begins. */
  public Instant begins() {
    return Instant.ofEpochSecond(slot * SECONDS);
  }
}
