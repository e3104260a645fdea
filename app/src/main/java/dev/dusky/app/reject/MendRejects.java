package dev.dusky.app.reject;

import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.RejectChoice;
import dev.dusky.core.ledger.RejectEntries;
import dev.dusky.core.mend.MendListener;
import dev.dusky.core.mend.Mender;
import dev.dusky.core.mend.Repair;
import dev.dusky.core.mend.RepairMatcher;
import dev.dusky.core.mend.RepairMatcher.Matched;
import dev.dusky.core.mend.RepairedFile;
import dev.dusky.core.reject.RejectState;
import dev.dusky.core.tally.Tally;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Loads repaired rejects. */
public final class MendRejects {

  /**
   * The mended rejects.
   *
   * @param feed the feed
   * @param tally the records read again; empty if there was nothing to mend
   * @param elapsed how long it took
   */
  public record Mended(Feed feed, Optional<Tally> tally, Duration elapsed) {}

  private final Workspace workspace;

  /** Mending in that workspace. */
  public MendRejects(Workspace workspace) {
    this.workspace = workspace;
  }

  private RejectEntries entries() {
    return workspace.warehouse().ledger().rejects();
  }

  /** The open rejects of posted files of a feed, to be read again as they are. */
  public Matched open(String name, RejectFilter filter) {
    Feed feed = workspace.configuration().feed(name);
    RejectChoice choice =
        filter.choice(Optional.of(name), List.of(), Optional.of(RejectState.OPEN));
    List<Repair> repairs = new ArrayList<>();
    entries()
        .forEach(
            choice,
            reject -> {
              if (reject.fileState().equals("posted")) {
                repairs.add(Repair.asItIs(reject));
              }
            });
    return new Matched(feed, repairs, List.of());
  }

  /** The repaired records of a file. */
  public Matched read(String name, Path file) throws IOException {
    return new RepairMatcher(entries(), workspace.configuration()::feed)
        .match(name, new RepairedFile(file));
  }

  /** Loads them. */
  public Mended run(Matched matched, MendListener listener) {
    refuseRefused(matched.repairs());
    Feed feed = matched.feed();
    if (matched.repairs().isEmpty()) {
      return new Mended(feed, Optional.empty(), Duration.ZERO);
    }
    long startNanos = System.nanoTime();
    Tally tally =
        new Mender(
                workspace.warehouse().ledger(),
                workspace.warehouse().tables(),
                feed,
                workspace.start(feed),
                listener)
            .run(matched.repairs());
    return new Mended(feed, Optional.of(tally), Duration.ofNanos(System.nanoTime() - startNanos));
  }

  /** Rejects of a refused file cannot be mended: the rest of the file is not loaded either. */
  private static void refuseRefused(List<Repair> repairs) {
    repairs.stream()
        .map(Repair::reject)
        .filter(reject -> !reject.fileState().equals("posted"))
        .findFirst()
        .ifPresent(
            reject -> {
              throw Failure.file(
                      "%s is %s, so its rejects cannot be mended"
                          .formatted(reject.file().path(), reject.fileState()))
                  .because("none of its rows are in the table")
                  .hint(
                      "Load it first with a tolerance, so that its other rows are in the table: {}",
                      Invocation.of("load", reject.feed(), "--tolerance", "any"));
            });
  }
}
