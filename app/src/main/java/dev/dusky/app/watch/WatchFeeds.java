package dev.dusky.app.watch;

import dev.dusky.app.config.DurationText;
import dev.dusky.app.config.WatchSettings;
import dev.dusky.app.figures.Figures;
import dev.dusky.app.report.Report;
import dev.dusky.app.watch.WatchEvent.Level;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import java.util.List;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import java.util.function.Function;

/** Keeps feeds up to date as files arrive. */
public final class WatchFeeds {

  private final Workspace workspace;
  private final WatchListener listener;
  private final Function<Report, String> page;
  private final BooleanSupplier stopped;

  /**
   * Watching in that workspace.
   *
   * @param listener receives what happens
   * @param page writes a report as the page that the endpoint serves
   * @param stopped ends it once it is true
   */
  public WatchFeeds(
      Workspace workspace,
      WatchListener listener,
      Function<Report, String> page,
      BooleanSupplier stopped) {
    this.workspace = workspace;
    this.listener = listener;
    this.page = page;
    this.stopped = stopped;
  }

  /**
   * Watches feeds until it is stopped, or once.
   *
   * @param interval how often depots are listed; as configured if empty
   * @return whether nothing failed
   */
  public boolean run(List<Feed> feeds, Optional<String> interval, boolean once)
      throws InterruptedException {
    WatchSettings configured = workspace.configuration().watch();
    WatchSettings settings =
        interval.map(text -> withInterval(configured, text)).orElse(configured);
    listener.event(
        Level.INFO,
        "start",
        "",
        once
            ? "scanning %s once".formatted(Figures.plural(feeds.size(), "feed"))
            : "watching %s every %s"
                .formatted(
                    Figures.plural(feeds.size(), "feed"), Figures.duration(settings.interval())));
    boolean clean = new Watcher(workspace, settings, feeds, listener, page, stopped, once).run();
    listener.event(Level.INFO, "end", "", "stopped");
    return clean;
  }

  private static WatchSettings withInterval(WatchSettings configured, String text) {
    return configured.withInterval(
        DurationText.parse(text)
            .filter(span -> !span.isZero())
            .orElseThrow(
                () ->
                    Failure.usage("--interval cannot be '" + text + "'")
                        .hint("Write a span such as 5s, 10min or 2h")));
  }
}
