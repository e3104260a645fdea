package dev.dusky.core.ledger;

import dev.dusky.core.reject.Problem;
import dev.dusky.core.tally.ControlTotal;
import dev.dusky.core.tally.Tally;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * The outcome of the rejects of one file that were read again.
 *
 * @param tally the account: records read, rows loaded, records still rejected, filtered
 * @param mended the rejects that are settled now
 * @param wrong what is still wrong with the others
 * @param totals the sums of the rows loaded
 * @param elapsed how long it took
 */
public record MendOutcome(
    Tally tally,
    Set<Long> mended,
    Map<Long, StillWrong> wrong,
    List<ControlTotal> totals,
    Duration elapsed) {

  /**
   * A reject that stays open.
   *
   * @param tried the version of its record that was tried
   * @param problems its new problems
   */
  public record StillWrong(byte[] tried, List<Problem> problems) {}
}
