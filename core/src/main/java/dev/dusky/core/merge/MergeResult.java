package dev.dusky.core.merge;

import java.time.Duration;
import java.util.List;

/**
 * The result of one transaction of a merge, executed or rehearsed.
 *
 * @param merge its name
 * @param into the target
 * @param mergeId its number in the ledger; 0 if nothing was written
 * @param what the snapshot that was merged, or an empty text
 * @param tally the account
 * @param rejects its rejects by code and column
 * @param changes rows before and after, of a rehearsal
 * @param allChanges how many rows change
 * @param advice indexes that would make it faster, each the statement to run
 * @param spare columns of the source that the target lacks, each the statement that adds it
 * @param elapsed how long it took
 */
public record MergeResult(
    String merge,
    String into,
    long mergeId,
    String what,
    MergeTally tally,
    List<Rejected> rejects,
    List<MergeChange> changes,
    long allChanges,
    List<String> advice,
    List<String> spare,
    Duration elapsed) {

  /** Rejects that have the same reason; {@code keys} are some of them. */
  public record Rejected(String code, String column, long rows, List<String> keys) {}
}
