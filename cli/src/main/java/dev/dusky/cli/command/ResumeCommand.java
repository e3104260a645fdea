package dev.dusky.cli.command;

import dev.dusky.app.watch.PauseFeeds;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.Screen;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** Resumes paused feeds. */
@Command(
    name = "resume",
    description = "Resumes paused feeds.",
    footer = {"", "Examples:", "  dusky resume collections", "  dusky resume collections assays"})
final class ResumeCommand extends DuskyCommand {

  @Parameters(paramLabel = "FEED", arity = "1..*", description = "The feeds to resume.")
  List<String> feeds;

  @Override
  int run(Screen screen) {
    try (Workspace workspace = new Workspace(configFile())) {
      for (PauseFeeds.Outcome outcome : new PauseFeeds(workspace).resume(feeds)) {
        String pause = outcome.pause().map(Object::toString).orElse("paused");
        screen.line(
            outcome.feed()
                + (outcome.changed() ? " is resumed; it was " + pause : " was not paused"));
        screen.object(
            Map.of("feed", outcome.feed(), "paused", false, "changed", outcome.changed()));
      }
    }
    return 0;
  }
}
