package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.feed.Readiness;
import dev.dusky.core.feed.RevisedPolicy;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;

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
    if (done(known)) {
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

  /**
   * The files of a load that replaces what is there: all that are not settled, or none while one of
   * them is still being written, and none if all of them wait for a person.
   */
  List<KnownFile> together(Iterator<KnownFile> all) {
    List<KnownFile> chosen = new ArrayList<>();
    int unready = 0;
    int stuck = 0;
    while (all.hasNext()) {
      KnownFile known = all.next();
      if (done(known)) {
        account.settledBefore();
        continue;
      }
      chosen.add(known);
      stuck += run.retries().leaves(known, declared) ? 1 : 0;
      unready += whole(known.file()) ? 0 : 1;
    }
    if (unready > 0 || stuck == chosen.size()) {
      for (int i = 0; i < chosen.size(); i++) {
        if (unready > 0) {
          account.unready();
        } else {
          account.stuck();
        }
      }
      return List.of();
    }
    return chosen;
  }

  private boolean done(KnownFile known) {
    return known.done() || ignores(known) && known.noted();
  }

  private boolean ignores(KnownFile known) {
    return known.postedBefore().isPresent()
        && !run.feed().policies().replaces()
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
