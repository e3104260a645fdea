package dev.dusky.core.load;

import dev.dusky.core.depot.ArchiveDepot;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.repeat.RepeatPolicy;
import java.util.ArrayList;
import java.util.List;

/** Collects consecutive files that are posted together: small ones, or those that go elsewhere. */
final class SmallFiles {

  /** A batch for other machines has at most this many files. */
  private static final int MOST_DISPATCHED = 256;

  private static final int MOST = 1_000;
  private static final long MOST_BYTES = 16L << 20;
  private static final long SMALL = 256 << 10;

  private final boolean together;
  private boolean possible;
  private final int least;
  private final int most;
  private final long mostBytes;
  private final long small;
  private final List<KnownFile> files = new ArrayList<>();
  private long bytes;

  /**
   * For one load. Repeats across files need each file's outcome before the next file, unless all
   * files of the load go elsewhere together.
   */
  SmallFiles(LoadRun run, Feed feed) {
    boolean elsewhere = run.dispatch().isPresent();
    least = elsewhere ? 1 : 4;
    mostBytes = elsewhere ? Long.MAX_VALUE : MOST_BYTES;
    small = elsewhere ? Long.MAX_VALUE : SMALL;
    RepeatPolicy repeats = feed.policies().repeats();
    boolean apart = repeats.scope() == RepeatPolicy.Scope.FILE;
    together = elsewhere && !apart;
    most = together ? Integer.MAX_VALUE : elsewhere ? MOST_DISPATCHED : MOST;
    possible =
        run.selection().isEmpty()
            && (elsewhere || apart && repeats.keep() == RepeatPolicy.Keep.FIRST);
  }

  /** Whether a file can be processed together with others. */
  boolean suits(KnownFile known) {
    boolean suits = possible && fits(known);
    if (together) {
      possible = suits; // one that has to be processed alone makes all others wait for their turn
    }
    return suits;
  }

  private boolean fits(KnownFile known) {
    return known.file().size() <= small
        && known.state() != FileState.REVISED
        && known.postedBefore().isEmpty()
        && !ArchiveDepot.isMember(known.file().path());
  }

  /** Whether that many files are too few for a group, or go one by one for another reason. */
  boolean few(int count) {
    return count < least || !possible;
  }

  void add(KnownFile known) {
    files.add(known);
    bytes += known.file().size();
  }

  boolean full() {
    return files.size() == most || bytes >= mostBytes;
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
