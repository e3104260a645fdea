package dev.dusky.cli.command;

import dev.dusky.cli.render.Screen;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.warehouses.FeedBook.Pause;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Holds feeds. */
@Command(
    name = "pause",
    description =
        "Holds feeds: nothing is loaded for them, on any machine, until they are resumed.",
    footer = {
      "",
      "Examples:",
      "  dusky pause collections --reason \"the sender repeats yesterday\"",
      "  dusky pause results dockets --reason \"the ledger moves tonight\"",
      "",
      "The ledger keeps who held what, when and why. A load at work stops after the file in hand."
    })
final class PauseCommand extends DuskyCommand {

  @Parameters(paramLabel = "FEED", arity = "1..*", description = "The feeds to hold.")
  List<String> feeds;

  @Option(
      names = "--reason",
      required = true,
      paramLabel = "TEXT",
      description = "Why, for those who meet it.")
  String reason;

  @Override
  int run(Screen screen) {
    if (reason.isBlank()) {
      throw Failure.usage("--reason must say why");
    }
    try (Workspace workspace = new Workspace(configFile())) {
      for (Feed feed : workspace.configuration().feedsOrAll(feeds)) {
        Pause pause =
            new Pause(
                Instant.now().truncatedTo(ChronoUnit.SECONDS),
                Workspace.person(),
                Workspace.host(),
                reason.strip());
        boolean now = workspace.warehouse().feeds().pause(feed.name(), pause);
        Pause holding =
            now ? pause : workspace.warehouse().feeds().pause(feed.name()).orElse(pause);
        screen.line(feed.name() + (now ? " is " : " already is ") + holding);
        screen.object(Map.of("feed", feed.name(), "paused", true, "pause", holding.toString()));
      }
    }
    return 0;
  }
}
