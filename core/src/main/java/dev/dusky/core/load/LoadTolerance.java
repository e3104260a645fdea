package dev.dusky.core.load;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.tally.Tolerance;
import java.util.Optional;

/** The tolerance for the rejects of all files of a load together. It is judged in their order. */
final class LoadTolerance {

  private LoadTolerance() {}

  /**
   * Why a file cannot be posted behind others, if it cannot.
   *
   * @param before the tally of those that are posted before it
   */
  static Optional<String> exceeded(Feed feed, Tally before, long rejected, long read) {
    Tolerance load = feed.policies().loadTolerance();
    long inLoad = before.rejected() + rejected;
    long readInLoad = before.read() + read;
    return load.allows(inLoad, readInLoad)
        ? Optional.empty()
        : Optional.of("with this file, in the whole load " + load.exceeded(inLoad, readInLoad));
  }
}
