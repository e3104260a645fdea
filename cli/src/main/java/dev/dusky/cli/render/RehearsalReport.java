package dev.dusky.cli.render;

import dev.dusky.app.config.Configuration;
import dev.dusky.app.load.RehearseFeeds.Rehearsed;
import dev.dusky.core.feed.Feed;
import java.util.Map;
import java.util.Optional;

/** Shows what a rehearsal found. */
public final class RehearsalReport {

  private final Screen screen;
  private final GroupReport groups;

  /** A report on that screen. */
  public RehearsalReport(Screen screen, Configuration configuration) {
    this.screen = screen;
    this.groups = new GroupReport(screen, configuration);
  }

  /** Shows the problems of a feed. */
  public void show(Rehearsed rehearsed) {
    if (rehearsed.unjudged()) {
      unjudged(rehearsed.feed());
    }
    rehearsed
        .groups()
        .forEach(
            g ->
                groups.show(
                    g.group(), g.rows(), "", rehearsed.rules(), Optional.of(rehearsed.feed())));
  }

  /** Says what the rehearsal could not find out. */
  private void unjudged(Feed feed) {
    screen.line(
        screen
            .style()
            .notable(
                ("  table %s did not check the rows (keys, references, constraints): this user has"
                        + " no write access, or the server is read-only")
                    .formatted(feed.into())));
    screen.object(
        Map.of("event", "not_judged", "feed", feed.name(), "table", feed.into().toString()));
  }

  /** Ends the report. */
  public void end() {
    screen.line("");
    screen.line(screen.style().faint("rehearsed only: nothing was written"));
  }
}
