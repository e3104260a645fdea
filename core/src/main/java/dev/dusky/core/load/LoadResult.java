package dev.dusky.core.load;

import dev.dusky.core.ledger.FileState;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.usage.Usage;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;

/**
 * A load as a whole.
 *
 * @param feed the feed
 * @param loadId its number, or 0 if there was nothing to do and none was opened
 * @param files how many files it brought into each state
 * @param before how many files were settled before and left alone
 * @param claimed how many files another load holds
 * @param aside what else was left alone
 * @param tally the sum over posted files and twins, which balances
 * @param refused the sum over refused files, which sums exclude
 * @param repeatsSeen exact repeats that were seen and loaded all the same
 * @param replaced what the load replaced
 * @param elapsed how long it took
 * @param usage what it used, listing included
 */
public record LoadResult(
    String feed,
    long loadId,
    Map<FileState, Integer> files,
    long before,
    long claimed,
    Aside aside,
    Tally tally,
    Tally refused,
    long repeatsSeen,
    Replaced replaced,
    Duration elapsed,
    Usage usage) {

  /**
   * What a load took out of its table.
   *
   * @param files how many files had brought it
   * @param rows how many rows it was
   */
  public record Replaced(long files, long rows) {

    /** Nothing. */
    public static final Replaced NOTHING = new Replaced(0, 0);
  }

  /**
   * Files that were left alone.
   *
   * @param stuck refused or halted before, and nothing has changed since
   * @param unready still being written
   * @param changed gone or changed between listing and reading
   * @param ignored revised files of which the feed takes no notice
   * @param pause who holds the feed and why, if that ended the load
   */
  public record Aside(
      long stuck, long unready, long changed, long ignored, Optional<String> pause) {

    /** Nothing was left alone. */
    public static final Aside NONE = new Aside(0, 0, 0, 0, Optional.empty());
  }

  /** How many files came into this state. */
  public int count(FileState state) {
    return files.getOrDefault(state, 0);
  }

  /** Whether there was nothing to do. */
  public boolean idle() {
    return files.isEmpty() && claimed == 0;
  }

  /** Whether every file could be processed. */
  public boolean clean() {
    return count(FileState.REFUSED) == 0 && count(FileState.REVISED) <= aside.ignored();
  }
}
