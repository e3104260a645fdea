package dev.dusky.core.load;

import dev.dusky.core.depot.ArchiveDepot;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.repeat.RepeatPolicy;
import java.util.ArrayList;
import java.util.List;

/** Collects consecutive small files that are posted together. */
final class SmallFiles {

  /** The minimum number of files in a group. */
  static final int LEAST = 4;

  private static final int MOST = 1_000;
  private static final long MOST_BYTES = 16L << 20;
  private static final long SMALL = 256 << 10;

  private final boolean possible;
  private final List<KnownFile> files = new ArrayList<>();
  private long bytes;

  /** For one load. Repeats across files need each file's outcome before the next file. */
  SmallFiles(LoadRun run, Feed feed) {
    RepeatPolicy repeats = feed.policies().repeats();
    possible =
        run.selection().isEmpty()
            && repeats.scope() == RepeatPolicy.Scope.FILE
            && repeats.keep() == RepeatPolicy.Keep.FIRST;
  }

  /** Whether a file can be processed together with others. */
  boolean suits(KnownFile known) {
    return possible
        && known.file().size() <= SMALL
        && known.state() != FileState.REVISED
        && known.postedBefore().isEmpty()
        && !ArchiveDepot.isMember(known.file().path());
  }

  void add(KnownFile known) {
    files.add(known);
    bytes += known.file().size();
  }

  boolean full() {
    return files.size() == MOST || bytes >= MOST_BYTES;
  }

  /** Takes all of them out. */
  List<KnownFile> take() {
    List<KnownFile> all = List.copyOf(files);
    files.clear();
    bytes = 0;
    return all;
  }

  /** A batch that records of small files are read into, one file after the other. */
  static RecordBatch batch() {
    return new RecordBatch((int) SMALL);
  }
}
