package dev.dusky.cli.command;

import dev.dusky.app.watch.PauseFeeds;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Holds feeds. */
@Command(
    name = "pause",
    description =
        "Pauses feeds: nothing is loaded for them, on any machine, until they are resumed.",
    footer = {
      "",
      "Examples:",
      "  dusky pause collections --reason \"the sender repeats yesterday\"",
      "  dusky pause results dockets --reason \"the ledger moves tonight\"",
      "",
      "The ledger records who paused what, when and why. A running load stops after the current file."
    })
final class PauseCommand extends DuskyCommand {

  @Parameters(paramLabel = "FEED", arity = "1..*", description = "The feeds to pause.")
  List<String> feeds;

  @Option(
      names = "--reason",
      required = true,
      paramLabel = "TEXT",
      description = "The reason; it is shown to others.")
  String reason;

  @Override
  int run(Screen screen) {
    if (reason.isBlank()) {
      throw Failure.usage("--reason must not be empty");
    }
    try (Workspace workspace = new Workspace(configFile())) {
      for (PauseFeeds.Outcome outcome : new PauseFeeds(workspace).pause(feeds, reason)) {
        String pause = outcome.pause().map(Object::toString).orElse("paused");
        screen.line(outcome.feed() + (outcome.changed() ? " is " : " already is ") + pause);
        screen.object(Map.of("feed", outcome.feed(), "paused", true, "pause", pause));
      }
    }
    return 0;
  }
}
