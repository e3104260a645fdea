package dev.dusky.core.ledger;

import java.util.List;
import java.util.Optional;

/** The history of loads, files, merges and drift, as people read it. */
public interface Journal {

  /** The newest loads, newest first. */
  List<LoadLine> loads(JournalChoice choice, int most);

  /** The outcome of each file of a load, in path order. */
  List<TallyLine> files(long loadId);

  /** The newest runs of merges, newest first. */
  List<MergeLine> merges(JournalChoice choice, int most);

  /** The files whose rows a merge took. */
  List<TallyLine> mergedFiles(long mergeId);

  /** The rejects of a merge by reason, with how many are still open. */
  List<MergeRejectLine> mergeRejects(long mergeId);

  /** The newest drifts, newest first; of a feed, a load and a file if they are given. */
  List<DriftLine> drifts(
      Optional<String> feed, Optional<Long> load, Optional<String> path, int most);

  /** The load with this number. */
  Optional<LoadHead> load(long id);
}
