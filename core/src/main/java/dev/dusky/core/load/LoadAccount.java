package dev.dusky.core.load;

import dev.dusky.core.ledger.FileState;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.usage.Usage;
import java.time.Duration;
import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicLong;

/** Counts what a load does. Results are added by the thread that runs the load. */
final class LoadAccount {

  private final Map<FileState, Integer> counts = new EnumMap<>(FileState.class);
  private final AtomicLong changed = new AtomicLong();
  private final AtomicLong ignored = new AtomicLong();
  private Tally tally = Tally.NONE;
  private Tally refused = Tally.NONE;
  private LoadResult.Replaced replaced = LoadResult.Replaced.NOTHING;
  private long repeatsSeen;
  private long held;
  private long before;
  private long stuck;
  private long unready;

  /** Adds what became of a file. */
  void add(FileResult result) {
    if (result.state() == FileState.WAITING) {
      held++;
    } else {
      counts.merge(result.state(), 1, Integer::sum);
    }
    if (result.state() == FileState.REFUSED) {
      refused = refused.plus(result.tally());
    } else {
      tally = tally.plus(result.tally());
    }
    repeatsSeen += result.repeatsSeen();
  }

  /** The tally of the files posted so far. */
  Tally tally() {
    return tally;
  }

  /** The load took rows out of the table. */
  void replaced(long files, long rows) {
    replaced = new LoadResult.Replaced(files, rows);
  }

  /** A file was settled by an earlier load. */
  void settledBefore() {
    before++;
  }

  /** A file waits for a person. */
  void stuck() {
    stuck++;
  }

  /** A file is still being written. */
  void unready() {
    unready++;
  }

  /** A file changed or disappeared since it was listed. Called by the file's thread. */
  void changed() {
    changed.incrementAndGet();
  }

  /** The feed ignores the revision of a file. Called by the file's thread. */
  void ignored() {
    ignored.incrementAndGet();
  }

  LoadResult result(
      String feed, long loadId, Optional<String> pause, Duration elapsed, Usage usage) {
    return new LoadResult(
        feed,
        loadId,
        Map.copyOf(counts),
        before,
        held - changed.get(),
        new LoadResult.Aside(stuck, unready, changed.get(), ignored.get(), pause),
        tally,
        refused,
        repeatsSeen,
        replaced,
        elapsed,
        usage);
  }
}
