package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.feed.Readiness;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.LongSupplier;

/**
 * The files that a load skips for now. A watcher does not retry refused and revised files without a
 * change, and sees for itself that a file no longer changes, since the clocks of others may be
 * wrong.
 */
public final class RetryPolicy {

  /** A load on request: everything that waits is tried. */
  static final RetryPolicy NONE = new RetryPolicy(false, System::nanoTime);

  private static final int MOST_REMEMBERED = 100_000;

  private record Seen(String version, long nanos) {}

  private final boolean lasting;
  private final LongSupplier nanos;
  private final Map<String, Seen> seen = new LinkedHashMap<>();
  private volatile boolean undated;

  private RetryPolicy(boolean lasting, LongSupplier nanos) {
    this.lasting = lasting;
    this.nanos = nanos;
  }

  /**
   * For one who looks at the same feed again and again.
   *
   * @param nanos a clock that never jumps
   */
  public static RetryPolicy lasting(LongSupplier nanos) {
    return new RetryPolicy(true, nanos);
  }

  /** Whether a file that waits for a person is left to that person. */
  boolean leaves(KnownFile known, String declared) {
    return lasting && known.stuck(declared);
  }

  /** Whether files were met that are dated in the future, so that a clock says nothing of them. */
  public boolean undated() {
    return undated;
  }

  /** Whether a file has been left alone by its writer for as long as the feed says. */
  boolean quiet(StagedFile file, Readiness ready, Instant now) {
    if (ready.quiet().isZero()) {
      return true;
    }
    undated |= file.modified().isAfter(now);
    if (!lasting) {
      return ready.quietAt(file.modified(), now);
    }
    Seen before = seen.get(file.path());
    if (before == null || !before.version().equals(file.version())) {
      if (ready.quietAt(file.modified(), now) && before == null) {
        return true;
      }
      if (seen.size() >= MOST_REMEMBERED) {
        seen.clear();
      }
      seen.put(file.path(), new Seen(file.version(), nanos.getAsLong()));
      return false;
    }
    boolean quiet =
        Duration.ofNanos(nanos.getAsLong() - before.nanos()).compareTo(ready.quiet()) >= 0;
    if (quiet) {
      seen.remove(file.path());
    }
    return quiet;
  }
}
