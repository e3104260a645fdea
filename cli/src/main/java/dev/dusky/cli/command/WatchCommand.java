package dev.dusky.cli.command;

import dev.dusky.cli.config.DurationText;
import dev.dusky.cli.config.WatchSettings;
import dev.dusky.cli.render.Figures;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.StatusReport;
import dev.dusky.cli.watch.WatchLog;
import dev.dusky.cli.watch.WatchLog.Level;
import dev.dusky.cli.watch.Watcher;
import dev.dusky.cli.workspace.FeedStatus;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Keeps feeds up to date as files arrive. */
@Command(
    name = "watch",
    description = "Keeps feeds up to date as files arrive, until it is stopped.",
    footer = {
      "",
      "Examples:",
      "  dusky watch                          all feeds, looked at every 30 s",
      "  dusky watch collections --interval 5s",
      "  dusky watch --once                   what is due now, then stop; for cron",
      "  dusky watch --status                 how each feed stands",
      "",
      "Files are taken as the feeds say, by the ledger and not by the clock: late ones too. What",
      "fails is tried again after a while and stops no other feed. Refused and revised files wait",
      "until they, the feed, or a person (dusky load) change something. Run as many of these on as",
      "many machines as you like against one PostgreSQL ledger; they divide the files. With",
      "watch: listen in the configuration it takes notifications at /notify and serves /metrics",
      "and /health. Ctrl-C and SIGTERM end it within seconds; nothing unfinished is kept."
    })
final class WatchCommand extends DuskyCommand {

  /** The forms of log lines. */
  enum LogForm {
    TEXT,
    JSON
  }

  @Parameters(paramLabel = "FEED", arity = "0..*", description = "The feeds to watch; all if none.")
  List<String> feeds = new ArrayList<>();

  @Option(names = "--once", description = "Do what is due and stop.")
  boolean once;

  @Option(
      names = "--interval",
      paramLabel = "SPAN",
      description = "List each depot so often, such as 5s or 10min; else as configured, or 30 s.")
  String interval;

  @Option(names = "--status", description = "Show how each feed stands, and watch nothing.")
  boolean status;

  @Option(
      names = "--log",
      paramLabel = "FORM",
      description = "Log lines as text or as json, an object a line; text if not given.")
  LogForm log = LogForm.TEXT;

  @Override
  int run(Screen screen) throws Exception {
    if (once && status) {
      throw Failure.usage("--once and --status do not go together");
    }
    try (StopSignal stop = StopSignal.install();
        Workspace workspace = new Workspace(configFile())) {
      List<Feed> chosen = workspace.configuration().feedsOrAll(feeds);
      if (status) {
        show(screen, workspace, chosen);
        return 0;
      }
      WatchSettings settings = settings(workspace.configuration().watch());
      WatchLog lines = new WatchLog(System.out, screen.json() || log == LogForm.JSON);
      lines.line(
          Level.INFO,
          "start",
          "",
          once
              ? "looking at " + Figures.plural(chosen.size(), "feed") + " once"
              : "watching %s every %s"
                  .formatted(
                      Figures.plural(chosen.size(), "feed"),
                      Figures.duration(settings.interval())));
      boolean clean = new Watcher(workspace, settings, chosen, lines, stop::requested, once).run();
      lines.line(Level.INFO, "end", "", "stopped");
      if (stop.requested()) {
        return Failure.Kind.INTERRUPTED.exitCode();
      }
      return clean ? 0 : Failure.Kind.FILE.exitCode();
    }
  }

  private WatchSettings settings(WatchSettings configured) {
    if (interval == null) {
      return configured;
    }
    Duration span =
        DurationText.parse(interval)
            .filter(s -> !s.isZero())
            .orElseThrow(
                () ->
                    Failure.usage("--interval cannot be '" + interval + "'")
                        .next("Write a span such as 5s, 10min or 2h"));
    return configured.withInterval(span);
  }

  /** Shows how feeds stand. */
  static void show(Screen screen, Workspace workspace, List<Feed> feeds) {
    Instant now = Instant.now();
    new StatusReport(screen, now)
        .show(feeds.stream().map(feed -> FeedStatus.of(workspace, feed, now)).toList());
  }
}
