package dev.dusky.cli.command;

import dev.dusky.cli.render.LoadReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.workspace.RejectDelivery;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.preview.FittingFeed;
import dev.dusky.core.tally.Tolerance;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Loads waiting files. */
@Command(
    name = "load",
    description = "Loads a feed's waiting files, or all feeds'.",
    footer = {
      "",
      "Examples:",
      "  dusky load                 load what is waiting for every feed",
      "  dusky load collections     load one feed",
      "  dusky load --manifest yard:day.json              exactly the files of a manifest",
      "  dusky load --again collections/2026-03-02/05.csv.gz   one posted file on purpose",
      "",
      "Each file is posted in a transaction of its own, rows and tally together. Files that are",
      "posted already are left alone, so running it again is always safe."
    })
final class LoadCommand extends DuskyCommand {

  @Parameters(paramLabel = "FEED", arity = "0..*", description = "The feeds to load; all if none.")
  List<String> feeds = new ArrayList<>();

  @Option(
      names = "--manifest",
      paramLabel = "DEPOT:PATH",
      description = "Load the files that this manifest lists, and check what it states of them.")
  String manifest;

  @Option(
      names = "--again",
      paramLabel = "PATH",
      description = "Load this file although it is posted; its rows are replaced.")
  String again;

  @Option(
      names = "--tolerance",
      paramLabel = "HOW MANY",
      description = "Tolerate so many rejects in each file this time: a count, 0.5%%, or any.")
  String tolerance;

  @Override
  int run(Screen screen) {
    try (StopSignal stop = StopSignal.install();
        Workspace workspace = new Workspace(configFile())) {
      ChosenFiles files = ChosenFiles.of(workspace, feeds, manifest, again);
      files.notes().forEach(note -> note(screen, note));
      LoadReport report = new LoadReport(screen);
      report.interrupted(workspace.closeInterrupted());
      boolean clean = true;
      for (Feed declared : files.feeds()) {
        Feed feed = tolerant(declared);
        FeedLoader loader =
            new FeedLoader(
                workspace.warehouse(),
                LoadRun.of(feed, workspace.depot(feed), report.of(feed), stop::requested)
                    .withFitting(new FittingFeed(workspace.configuration().feedsOf(feed)))
                    .withSelection(files.selection(feed)));
        LoadResult result = loader.run(workspace.start(feed));
        report.total(result);
        new RejectDelivery(
                text -> screen.line(screen.style().faint("  " + text)),
                screen::remark,
                workspace,
                feed)
            .deliver(result.loadId());
        clean &= result.clean();
      }
      return clean ? 0 : Failure.Kind.FILE.exitCode();
    }
  }

  private Feed tolerant(Feed feed) {
    if (tolerance == null) {
      return feed;
    }
    Tolerance other =
        Tolerance.parse(tolerance)
            .orElseThrow(
                () ->
                    Failure.usage("--tolerance cannot be '" + tolerance + "'")
                        .next("Write a count (25), a share (0.5%) or any"));
    return feed.withPolicies(feed.policies().withTolerance(other));
  }

  private static void note(Screen screen, String note) {
    screen.line(screen.style().notable(note));
    screen.object(Map.of("event", "note", "message", note));
  }
}
