package dev.dusky.cli.command;

import dev.dusky.app.load.ChosenFiles;
import dev.dusky.app.load.LoadFeeds;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.LoadReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
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
      LoadFeeds loads =
          new LoadFeeds(
              workspace,
              new LoadReport(screen),
              stop::requested,
              Optional.ofNullable(tolerance).map(LoadFeeds::tolerance));
      return loads.run(files) ? 0 : Failure.Kind.FILE.exitCode();
    }
  }
}
