package dev.dusky.core.feed;

import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.expect.Expectations;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.table.Arrangement;
import dev.dusky.core.tally.Tolerance;
import java.util.Optional;

/**
 * The policies of a feed: rejects, limits, control information, arrivals, drift and repeats.
 *
 * @param tolerance how many rejects a file may have and still be posted
 * @param loadTolerance how many rejects all files of one load may have together
 * @param rejectCap how many rejects of one file are kept in the ledger; the rest is only counted
 * @param limits bounds on decompression
 * @param expectations the control totals that files are compared with
 * @param repeats what it does about rows that occur again
 * @param arrivals what it does about files as they come and go
 * @param drift what it does about files of another shape; if nothing is said, unknown names in a
 *     header refuse the file and other unknown fields are skipped
 * @param mode what a load does to the landing table
 * @param rejectsTo where a file's rejects are written for its sender after each load
 * @param arrangement how the rows of a table in object storage are arranged when it is made
 */
public record FeedPolicies(
    Tolerance tolerance,
    Tolerance loadTolerance,
    int rejectCap,
    ContentLimits limits,
    Expectations expectations,
    RepeatPolicy repeats,
    Arrivals arrivals,
    Optional<DriftPolicy> drift,
    LoadMode mode,
    Optional<DepotFolder> rejectsTo,
    Arrangement arrangement) {

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
          RepeatPolicy.COUNTED,
          Arrivals.DEFAULT,
          Optional.empty(),
          LoadMode.APPEND,
          Optional.empty(),
          Arrangement.NONE);

  /** The same with another tolerance for each file. */
  public FeedPolicies withTolerance(Tolerance other) {
    return with(other, loadTolerance, rejectCap, expectations, repeats);
  }

  /** The same with another tolerance for a whole load. */
  public FeedPolicies withLoadTolerance(Tolerance other) {
    return with(tolerance, other, rejectCap, expectations, repeats);
  }

  /** The same with another cap on the rejects that are kept in full. */
  public FeedPolicies withRejectCap(int other) {
    return with(tolerance, loadTolerance, other, expectations, repeats);
  }

  /** The same expecting other control totals. */
  public FeedPolicies withExpectations(Expectations other) {
    return with(tolerance, loadTolerance, rejectCap, other, repeats);
  }

  /** The same with another policy for repeats. */
  public FeedPolicies withRepeats(RepeatPolicy other) {
    return with(tolerance, loadTolerance, rejectCap, expectations, other);
  }

  /** The same with another policy for arriving files. */
  public FeedPolicies withArrivals(Arrivals other) {
    return with(other, drift, mode);
  }

  /** The same with another drift policy. */
  public FeedPolicies withDrift(DriftPolicy other) {
    return with(arrivals, Optional.of(other), mode);
  }

  /** The same with another mode. */
  public FeedPolicies withMode(LoadMode other) {
    return with(arrivals, drift, other);
  }

  /** Whether a load replaces what the table holds. */
  public boolean replaces() {
    return mode instanceof LoadMode.Replace;
  }

  /** How a load replaces what the table holds; only if it does. */
  public LoadMode.Replace replacing() {
    return (LoadMode.Replace) mode;
  }

  private FeedPolicies with(Arrivals files, Optional<DriftPolicy> shape, LoadMode how) {
    return new FeedPolicies(
        tolerance,
        loadTolerance,
        rejectCap,
        limits,
        expectations,
        repeats,
        files,
        shape,
        how,
        rejectsTo,
        arrangement);
  }

  private FeedPolicies with(
      Tolerance file, Tolerance load, int cap, Expectations expected, RepeatPolicy about) {
    return new FeedPolicies(
        file, load, cap, limits, expected, about, arrivals, drift, mode, rejectsTo, arrangement);
  }

  /** The same for a table that is arranged so. */
  public FeedPolicies withArrangement(Arrangement other) {
    return new FeedPolicies(
        tolerance,
        loadTolerance,
        rejectCap,
        limits,
        expectations,
        repeats,
        arrivals,
        drift,
        mode,
        rejectsTo,
        other);
  }
}
