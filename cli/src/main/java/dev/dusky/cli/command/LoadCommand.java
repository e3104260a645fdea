package dev.dusky.cli.command;

import dev.dusky.app.alert.Alerts;
import dev.dusky.app.load.ChosenFiles;
import dev.dusky.app.load.LoadFeeds;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.process.ExitCode;
import dev.dusky.cli.render.LoadReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Loads waiting files. */
@Command(
    name = "load",
    description = "Loads the waiting files of one feed or all feeds.",
    footer = {
      "",
      "Examples:",
      "  dusky load                 load the waiting files of every feed",
      "  dusky load collections     load one feed",
      "  dusky load --manifest yard:day.json    exactly the files of a manifest",
      "  dusky load --again collections/2026-03-02/05.csv.gz   one posted file again",
      "  dusky load --on engine     read the files on the machines of the engine",
      "",
      "Each file is posted in its own transaction, rows and tally together. Files that",
      "are posted already are skipped, so running it again is always safe."
    })
final class LoadCommand extends DuskyCommand {

  @Parameters(paramLabel = "FEED", arity = "0..*", description = "The feeds to load; all if none.")
  List<String> feeds = new ArrayList<>();

  @Option(
      names = "--manifest",
      paramLabel = "DEPOT:PATH",
      description = "Load the files that this manifest lists, and check its figures.")
  String manifest;

  @Option(
      names = "--again",
      paramLabel = "PATH",
      description = "Load this posted file again; its rows are replaced.")
  String again;

  @Option(
      names = "--tolerance",
      paramLabel = "MAX",
      description = "Maximum rejects per file for this load: a count, 0.5%%, or any.")
  String tolerance;

  @Option(names = "--any-volume", description = "Refuse no file because its volume is unusual.")
  boolean anyVolume;

  @Mixin ReadingPlace place = new ReadingPlace();

  @Option(names = "--verbose", description = "List every file, however many there are.")
  boolean verbose;

  @Override
  int run(Screen screen) {
    try (StopSignal stop = StopSignal.install();
        Workspace workspace = new Workspace(configFile());
        LoadReport report = LoadReport.load(screen, verbose)) {
      ChosenFiles files = ChosenFiles.of(workspace, feeds, manifest, again);
      LoadFeeds loads =
          new LoadFeeds(
              workspace,
              report,
              stop::requested,
              Optional.ofNullable(tolerance).map(LoadFeeds::tolerance),
              anyVolume,
              place.engine());
      boolean clean = loads.run(files);
      new Alerts(workspace, screen::remark).settle(files.feeds(), List.of());
      return clean ? 0 : ExitCode.of(Failure.Kind.FILE);
    }
  }
}
