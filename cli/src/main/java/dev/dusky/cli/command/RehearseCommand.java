package dev.dusky.cli.command;

import dev.dusky.app.load.RehearseFeeds;
import dev.dusky.app.load.RehearseFeeds.Rehearsed;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.process.ExitCode;
import dev.dusky.cli.render.LoadReport;
import dev.dusky.cli.render.RehearsalReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Does everything that a load would, and keeps nothing of it. */
@Command(
    name = "rehearse",
    description = "Reads, types and checks everything that a load would, and writes nothing.",
    footer = {
      "",
      "Examples:",
      "  dusky rehearse               what 'dusky load' would do now",
      "  dusky rehearse collections   one feed",
      "  dusky rehearse --on engine   read the files on the machines of the engine",
      "",
      "The landing table checks the rows, keys and constraints included, in a transaction",
      "that is rolled back. The tally is that of the load. Exits with 1 if",
      "a file would be refused."
    })
final class RehearseCommand extends DuskyCommand {

  @Parameters(paramLabel = "FEED", arity = "0..*", description = "The feeds; all if none.")
  List<String> feeds = new ArrayList<>();

  @Mixin ReadingPlace place = new ReadingPlace();

  @Option(names = "--verbose", description = "List every file, however many there are.")
  boolean verbose;

  @Override
  int run(Screen screen) {
    try (StopSignal stop = StopSignal.install();
        Workspace workspace = new Workspace(configFile());
        LoadReport loads = LoadReport.rehearsal(screen, verbose)) {
      boolean clean = true;
      RehearsalReport report = new RehearsalReport(screen, workspace.configuration());
      RehearseFeeds rehearsals = new RehearseFeeds(workspace, stop::requested, place.engine());
      for (Feed feed : workspace.configuration().feedsOrAll(feeds)) {
        Rehearsed rehearsed = rehearsals.run(feed, loads::of);
        loads.loaded(rehearsed.result());
        report.show(rehearsed);
        clean &= rehearsed.result().clean();
      }
      report.end();
      return clean ? 0 : ExitCode.of(Failure.Kind.FILE);
    }
  }
}
