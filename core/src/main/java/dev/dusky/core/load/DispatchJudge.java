package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.dispatch.DispatchPart.Assigned;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.tally.Tally;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/**
 * Decides what depends on other files of a load, when all have been attempted: which of them are
 * twins, and which have too many rejects together with those before them.
 */
final class DispatchJudge {

  private final Feed feed;
  private final Tally before;
  private final Function<StagedFile, String> among;
  private final Function<String, Optional<FileEntry>> posted;
  private final Map<StagedFile, Optional<FileEntry>> twins = new HashMap<>();
  private final Map<StagedFile, String> beyond = new HashMap<>();

  /**
   * A judge of the files of one load.
   *
   * @param before the tally of the load's files before these
   * @param among names the files among which a file may have a twin
   * @param posted the posted file with a fingerprint, if the ledger has one that counts
   */
  DispatchJudge(
      Feed feed,
      Tally before,
      Function<StagedFile, String> among,
      Function<String, Optional<FileEntry>> posted) {
    this.feed = feed;
    this.before = before;
    this.among = among;
    this.posted = posted;
  }

  /** Judges files in their order; replaces what was decided before. */
  void judge(List<Assigned> files, Function<StagedFile, Optional<FileOutcome>> outcomes) {
    twins.clear();
    beyond.clear();
    Set<String> contents = new HashSet<>();
    Tally sum = before;
    for (Assigned assigned : files) {
      StagedFile file = assigned.file();
      Optional<FileOutcome> able =
          outcomes.apply(file).filter(outcome -> outcome.state() == FileState.POSTED);
      if (able.isEmpty()) {
        continue;
      }
      Tally tally = able.get().tally();
      String fingerprint = able.get().fingerprint().orElseThrow();
      String content = fingerprint + among.apply(file);
      Optional<FileEntry> earlier = posted.apply(fingerprint);
      Optional<String> exceeded = LoadTolerance.exceeded(feed, sum, tally.rejected(), tally.read());
      if (earlier.isPresent() || contents.contains(content)) {
        twins.put(file, earlier);
        sum = sum.plus(Tally.twin(tally.read()));
      } else if (exceeded.isPresent()) {
        beyond.put(file, exceeded.get());
      } else {
        contents.add(content);
        sum = sum.plus(tally);
      }
    }
  }

  /** Whether there are twins. */
  boolean hasTwins() {
    return !twins.isEmpty();
  }

  /** Whether a file is to be left out although nothing is wrong with it. */
  boolean leavesOut(StagedFile file) {
    return twins.containsKey(file) || beyond.containsKey(file);
  }

  /**
   * The outcome of a file.
   *
   * @param twinOf the posted file with a fingerprint, those of this load included
   */
  FileOutcome outcome(
      StagedFile file, FileOutcome reported, Function<String, Optional<FileEntry>> twinOf) {
    if (beyond.containsKey(file)) {
      return reported.beyondTolerance(beyond.get(file));
    }
    if (twins.containsKey(file)) {
      return reported.asTwinOf(
          twins.get(file).or(() -> reported.fingerprint().flatMap(twinOf)).orElseThrow());
    }
    return reported;
  }
}
