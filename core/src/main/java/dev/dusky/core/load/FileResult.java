package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.drift.Drift;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.tally.ControlTotal;
import dev.dusky.core.tally.Tally;
import java.time.Duration;
import java.util.List;

/**
 * The result of a file in a load.
 *
 * @param file the file
 * @param state its state now
 * @param tally its account in this load
 * @param elapsed how long it took
 * @param message what people should know of it, or an empty string
 * @param rejectsKept how many of its rejects the ledger has in full
 * @param totals the sums of its columns
 * @param repeatsSeen how many exact repeats were seen and loaded all the same
 * @param drifts how the file differs from its feed, and what was done about it
 */
public record FileResult(
    StagedFile file,
    FileState state,
    Tally tally,
    Duration elapsed,
    String message,
    long rejectsKept,
    List<ControlTotal> totals,
    long repeatsSeen,
    List<Drift> drifts) {

  /** The same for a file that is refused although nothing is wrong with it. */
  FileResult refusedFor(String why) {
    return new FileResult(
        file,
        FileState.REFUSED,
        tally.withheldAll(),
        elapsed,
        why,
        rejectsKept,
        List.of(),
        0,
        drifts);
  }

  /** A file that another load holds. */
  static FileResult held(StagedFile file, Duration elapsed) {
    return passed(file, FileState.WAITING, elapsed, "claimed by another load");
  }

  /** A file that was not read. */
  static FileResult passed(StagedFile file, FileState state, Duration elapsed, String message) {
    return new FileResult(file, state, Tally.NONE, elapsed, message, 0, List.of(), 0, List.of());
  }
}
