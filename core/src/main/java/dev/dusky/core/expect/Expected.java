package dev.dusky.core.expect;

import java.time.Instant;
import java.util.Locale;
import java.util.Optional;

/**
 * One period for which files are expected.
 *
 * @param period the period as people write it
 * @param begins when it begins
 * @param due when its files are due
 * @param files how many are expected
 * @param came how many came
 * @param late how many of them came after they were due
 * @param last when the last of them came
 * @param verdict what that amounts to
 */
public record Expected(
    String period,
    Instant begins,
    Instant due,
    int files,
    int came,
    int late,
    Optional<Instant> last,
    Verdict verdict) {

  /** What is to be said of a period. */
  public enum Verdict {
    /** All files came in time. */
    WHOLE,
    /** Files are still to come, in time. */
    AHEAD,
    /** Files are due and did not come. */
    MISSING,
    /** All files came, not all of them in time. */
    LATE,
    /** More files came than expected. */
    TOO_MANY;

    /** The verdict as shown. */
    public String label() {
      return name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }
  }
}
