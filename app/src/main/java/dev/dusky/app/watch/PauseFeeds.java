package dev.dusky.app.watch;

import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FeedEntries;
import dev.dusky.core.ledger.Pause;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;

/** Pauses and resumes feeds. */
public final class PauseFeeds {

  /**
   * A feed that was paused or resumed.
   *
   * @param feed its name
   * @param changed false if it was in that state before
   * @param pause the pause in force, or the one that ended
   */
  public record Outcome(String feed, boolean changed, Optional<Pause> pause) {}

  private final Workspace workspace;

  /** Pauses in that workspace. */
  public PauseFeeds(Workspace workspace) {
    this.workspace = workspace;
  }

  /** Pauses feeds with a reason. */
  public List<Outcome> pause(List<String> names, String reason) {
    FeedEntries entries = workspace.warehouse().ledger().feeds();
    Pause pause =
        new Pause(
            Instant.now().truncatedTo(ChronoUnit.SECONDS),
            Workspace.person(),
            Workspace.host(),
            reason.strip());
    return workspace.configuration().feedsOrAll(names).stream()
        .map(Feed::name)
        .map(
            feed -> {
              boolean changed = entries.pause(feed, pause);
              return new Outcome(feed, changed, changed ? Optional.of(pause) : entries.pause(feed));
            })
        .toList();
  }

  /** Resumes feeds. */
  public List<Outcome> resume(List<String> names) {
    FeedEntries entries = workspace.warehouse().ledger().feeds();
    return workspace.configuration().feedsOrAll(names).stream()
        .map(Feed::name)
        .map(
            feed -> {
              Optional<Pause> pause = entries.pause(feed);
              return new Outcome(feed, entries.resume(feed, Workspace.person()), pause);
            })
        .toList();
  }
}
