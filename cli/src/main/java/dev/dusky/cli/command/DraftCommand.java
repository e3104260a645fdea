package dev.dusky.cli.command;

import dev.dusky.app.preview.DraftFeeds;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.process.ExitCode;
import dev.dusky.cli.render.DraftProgress;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Works out feeds from staged files and writes them into the configuration. */
@Command(
    name = "draft",
    description = {
      "Analyses staged files and writes feeds with layouts and columns.",
      "",
      "Every decision is shown with its evidence; decisions to review are marked.",
      "is marked. Without a path all files of the depot are grouped by folder and",
      "shape, a feed for each."
    },
    footer = {
      "",
      "Examples:",
      "  dusky draft yard:collections/      the files of a folder",
      "  dusky draft yard: --print          all of the depot, nothing written",
      "  dusky draft yard:farms/ --column farm_code='varchar(8) not null' --create"
    })
final class DraftCommand extends DuskyCommand {

  @Parameters(
      index = "0",
      paramLabel = "DEPOT:PATH",
      description = "The depot, followed by a folder, a pattern, or nothing for all files.")
  String target;

  @Option(names = "--name", paramLabel = "NAME", description = "The feed's name.")
  String name;

  @Option(
      names = "--schema",
      paramLabel = "SCHEMA",
      description = "The schema of the landing tables; intake if not given.")
  String schema = "intake";

  @Option(
      names = "--column",
      paramLabel = "NAME=TYPE",
      description = "Set the type of a column; the other types are inferred.")
  List<String> columns = new ArrayList<>();

  @Option(names = "--print", description = "Print the lines instead of writing them.")
  boolean print;

  @Option(names = "--evidence", description = "Show all evidence, also with several feeds.")
  boolean evidence;

  @Option(names = "--create", description = "Also create the landing tables.")
  boolean create;

  @Override
  int run(Screen screen) throws IOException {
    DraftFeeds.Request request =
        new DraftFeeds.Request(target, Optional.ofNullable(name), schema, columns, !print);
    try (Workspace workspace = new Workspace(configFile())) {
      DraftFeeds drafts = new DraftFeeds(workspace, request);
      DraftProgress progress = new DraftProgress(screen, drafts, evidence, print);
      List<Feed> feeds = drafts.run(progress);
      progress.end();
      if (!print && !feeds.isEmpty()) {
        drafts.write(feeds, configFile());
        progress.written(feeds.size(), config);
      }
      if (create) {
        feeds.forEach(feed -> progress.created(feed, drafts.create(feed)));
      }
      return progress.failures() > 0 ? ExitCode.of(Failure.Kind.FILE) : 0;
    }
  }
}
