package dev.dusky.cli.command;

import dev.dusky.app.journal.ListFiles;
import dev.dusky.app.watch.WatchFeeds;
import dev.dusky.app.watch.WatchListener;
import dev.dusky.app.watch.WatchLog;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.board.Board;
import dev.dusky.cli.board.BoardTerminal;
import dev.dusky.cli.page.ReportPage;
import dev.dusky.cli.process.ExitCode;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.StatusReport;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import org.jline.terminal.Terminal;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Keeps feeds up to date as files arrive. */
@Command(
    name = "watch",
    description = "Loads files as they arrive, until stopped.",
    footer = {
      "",
      "Examples:",
      "  dusky watch                          all feeds, scanned every 30 s",
      "  dusky watch collections --interval 5s",
      "  dusky watch --once                   one scan, then stop; for cron",
      "  dusky watch --log text               lines in place of the board",
      "  dusky watch --status                 the state of each feed",
      "",
      "On a terminal it shows a board of the feeds; elsewhere, or with --log, it writes lines.",
      "Files are taken as the feeds say, by the ledger and not by the clock: late ones too. What",
      "fails is tried again after a while and stops no other feed. Refused and revised files wait",
      "until they, the feed, or a person (dusky load) change something. Run as many of these on as",
      "many machines as you like against one PostgreSQL ledger; they divide the files. With",
      "watch: listen in the configuration it takes notifications at /notify and serves /metrics,",
      "/health and the report at / (dusky report --link). Ctrl-C and SIGTERM end it within",
      "seconds; nothing unfinished is kept."
    })
final class WatchCommand extends DuskyCommand {

  /** The forms of log lines. */
  enum LogForm {
    TEXT,
    JSON
  }

  @Parameters(paramLabel = "FEED", arity = "0..*", description = "The feeds to watch; all if none.")
  List<String> feeds = new ArrayList<>();

  @Option(names = "--once", description = "Scan once and stop.")
  boolean once;

  @Option(
      names = "--interval",
      paramLabel = "SPAN",
      description = "Time between scans, such as 5s or 10min; default: as configured, or 30 s.")
  String interval;

  @Option(names = "--status", description = "Show the state of each feed and exit.")
  boolean status;

  @Option(
      names = "--log",
      paramLabel = "FORM",
      description =
          "Log lines as text, or as json with one object per line; default: text, or the board"
              + " on a terminal.")
  LogForm log;

  @Override
  int run(Screen screen) throws Exception {
    if (once && status) {
      throw Failure.usage("--once and --status cannot be combined");
    }
    try (StopSignal stop = StopSignal.install();
        Workspace workspace = new Workspace(configFile())) {
      List<Feed> chosen = workspace.configuration().feedsOrAll(feeds);
      if (status) {
        Instant now = Instant.now();
        new StatusReport(screen, now).show(new ListFiles(workspace).status(chosen, now));
        return 0;
      }
      boolean clean = watch(workspace, chosen, screen, stop);
      if (stop.requested()) {
        return ExitCode.of(Failure.Kind.INTERRUPTED);
      }
      return clean ? 0 : ExitCode.of(Failure.Kind.FILE);
    }
  }

  private boolean watch(Workspace workspace, List<Feed> chosen, Screen screen, StopSignal stop)
      throws InterruptedException {
    boolean lines = once || log != null || screen.json();
    Optional<Terminal> terminal = lines ? Optional.empty() : BoardTerminal.open(screen);
    if (terminal.isEmpty()) {
      WatchLog written = new WatchLog(System.out, screen.json() || log == LogForm.JSON);
      return run(workspace, chosen, written, stop::requested);
    }
    try (Board board = new Board(chosen, terminal.get(), screen.style(), System.out)) {
      return run(workspace, chosen, board.listener(), () -> stop.requested() || board.quitting());
    }
  }

  private boolean run(
      Workspace workspace, List<Feed> chosen, WatchListener listener, BooleanSupplier stopped)
      throws InterruptedException {
    return new WatchFeeds(workspace, listener, ReportPage::live, stopped)
        .run(chosen, Optional.ofNullable(interval), once);
  }
}
