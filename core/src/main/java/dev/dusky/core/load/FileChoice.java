package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.feed.Readiness;
import dev.dusky.core.feed.RevisedPolicy;
import java.time.Instant;

/** Decides which files a load leaves alone. */
final class FileChoice {

  private final LoadRun run;
  private final String declared;
  private final LoadAccount account;

  /**
   * The choice of one load.
   *
   * @param declared the hash of the feed's declaration
   */
  FileChoice(LoadRun run, String declared, LoadAccount account) {
    this.run = run;
    this.declared = declared;
    this.account = account;
  }

  /** Whether the load leaves a file alone; the reason is counted. */
  boolean leaves(KnownFile known) {
    if (run.again()) {
      return false;
    }
    if (known.done() || ignores(known) && known.noted()) {
      account.settledBefore();
      return true;
    }
    if (run.retries().leaves(known, declared)) {
      account.stuck();
      return true;
    }
    if (!whole(known.file())) {
      account.unready();
      return true;
    }
    return false;
  }

  private boolean ignores(KnownFile known) {
    return known.postedBefore().isPresent()
        && run.feed().policies().arrivals().revised() == RevisedPolicy.IGNORE;
  }

  /** Whether the file is completely written. */
  private boolean whole(StagedFile file) {
    Readiness ready = run.feed().policies().arrivals().ready();
    Instant now = Instant.now();
    boolean quiet = run.retries().quiet(file, ready, now);
    if (!quiet && file.modified().isAfter(now)) {
      run.listener()
          .remark(
              "%s is dated %s, which is in the future; it is left until it has not changed for %s"
                  .formatted(file.path(), file.modified(), ready.quiet().toSeconds() + " s"));
    }
    return quiet
        && ready.markerOf(file.path()).map(m -> run.depot().look(m).isPresent()).orElse(true);
  }
}
