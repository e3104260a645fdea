package dev.dusky.cli.command;

import dev.dusky.cli.render.Screen;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.core.feed.Feed;
import dev.dusky.warehouses.FeedBook.Pause;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** Lets feeds go on. */
@Command(
    name = "resume",
    description = "Lets feeds that were paused go on.",
    footer = {"", "Examples:", "  dusky resume collections", "  dusky resume collections assays"})
final class ResumeCommand extends DuskyCommand {

  @Parameters(paramLabel = "FEED", arity = "1..*", description = "The feeds to let go on.")
  List<String> feeds;

  @Override
  int run(Screen screen) {
    try (Workspace workspace = new Workspace(configFile())) {
      for (Feed feed : workspace.configuration().feedsOrAll(feeds)) {
        Optional<Pause> pause = workspace.warehouse().feeds().pause(feed.name());
        boolean now = workspace.warehouse().feeds().resume(feed.name(), Workspace.person());
        screen.line(
            feed.name()
                + (now
                    ? " goes on; it was " + pause.map(Pause::toString).orElse("paused")
                    : " was not paused"));
        screen.object(Map.of("feed", feed.name(), "paused", false, "changed", now));
      }
    }
    return 0;
  }
}
