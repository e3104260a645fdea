package dev.dusky.core.feed;

import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.expect.Expectations;
import dev.dusky.core.tally.Tolerance;
import java.util.Optional;

/**
 * What a feed does about rejects, limits and what senders say of their files.
 *
 * @param tolerance how many rejects a file may have and still be posted
 * @param loadTolerance how many rejects all files of one load may have together
 * @param rejectCap how many rejects of one file are kept in the ledger; the rest is only counted
 * @param limits bounds on decompression
 * @param expectations the control totals that files are held against
 * @param rejectsTo where a file's rejects are written for its sender after each load
 */
public record FeedPolicies(
    Tolerance tolerance,
    Tolerance loadTolerance,
    int rejectCap,
    ContentLimits limits,
    Expectations expectations,
    Optional<DepotFolder> rejectsTo) {

  /** The default for {@link #rejectCap}. */
  public static final int DEFAULT_REJECT_CAP = 10_000;

  /** No reject tolerated, nothing expected. */
  public static final FeedPolicies DEFAULT =
      new FeedPolicies(
          Tolerance.NONE,
          new Tolerance.Any(),
          DEFAULT_REJECT_CAP,
          ContentLimits.DEFAULT,
          Expectations.NONE,
          Optional.empty());

  /** The same with another tolerance for each file. */
  public FeedPolicies withTolerance(Tolerance other) {
    return new FeedPolicies(other, loadTolerance, rejectCap, limits, expectations, rejectsTo);
  }

  /** The same with another tolerance for a whole load. */
  public FeedPolicies withLoadTolerance(Tolerance other) {
    return new FeedPolicies(tolerance, other, rejectCap, limits, expectations, rejectsTo);
  }

  /** The same with another cap on the rejects that are kept in full. */
  public FeedPolicies withRejectCap(int other) {
    return new FeedPolicies(tolerance, loadTolerance, other, limits, expectations, rejectsTo);
  }

  /** The same expecting other control totals. */
  public FeedPolicies withExpectations(Expectations other) {
    return new FeedPolicies(tolerance, loadTolerance, rejectCap, limits, other, rejectsTo);
  }
}
