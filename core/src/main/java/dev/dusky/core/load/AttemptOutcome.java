package dev.dusky.core.load;

import dev.dusky.core.drift.Drift;
import dev.dusky.core.drift.Growth;
import java.util.List;

/** How an attempt to load one file ended. */
sealed interface AttemptOutcome {

  /** It is settled: posted, refused, a twin, or held by another load. */
  record Done(FileResult result) implements AttemptOutcome {}

  /**
   * The landing table has to grow before the file can be loaded.
   *
   * @param growth how
   * @param noted what else was found of the file
   */
  record NeedsGrowth(Growth growth, List<Drift> noted) implements AttemptOutcome {}

  /** Memory does not hold its row hashes: repeats are detected in a survey before writing. */
  record NeedsSurvey() implements AttemptOutcome {}

  /**
   * Rows were left out as repeats of rows that the table refused.
   *
   * @param refused the numbers of all records that were refused so far, ascending
   */
  record NeedsOthers(long[] refused) implements AttemptOutcome {}
}
