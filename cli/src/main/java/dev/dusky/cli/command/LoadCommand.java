package dev.dusky.cli.command;

import dev.dusky.cli.render.LoadReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.look.FittingFeed;
import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
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
      "",
      "Each file is posted in a transaction of its own, rows and tally together. Files that are",
      "posted already are left alone, so running it again is always safe."
    })
final class LoadCommand extends DuskyCommand {

  @Parameters(paramLabel = "FEED", arity = "0..*", description = "The feeds to load; all if none.")
  List<String> feeds = new ArrayList<>();

  @Override
  int run(Screen screen) {
    try (StopSignal stop = StopSignal.install();
        Workspace workspace = new Workspace(configFile())) {
      List<Feed> chosen = workspace.configuration().feedsOrAll(feeds);
      LoadReport report = new LoadReport(screen);
      report.interrupted(workspace.closeInterrupted());
      boolean clean = true;
      for (Feed feed : chosen) {
        FeedLoader loader =
            new FeedLoader(
                workspace.warehouse(),
                LoadRun.of(feed, workspace.depot(feed), report.of(feed), stop::requested)
                    .withFitting(new FittingFeed(workspace.configuration().feedsOf(feed))));
        LoadResult result = loader.run(workspace.start(feed));
        report.total(result);
        clean &= result.clean();
      }
      return clean ? 0 : Failure.Kind.FILE.exitCode();
    }
  }
}
