package dev.dusky.cli.command;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.reject.ReviewRejects;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import java.time.Duration;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Removes old settled rejects. */
@Command(
    name = "purge",
    description = "Removes old settled rejects; open ones are never removed.",
    footer = {
      "",
      "Examples:",
      "  dusky rejects purge --settled-before 400d              every feed",
      "  dusky rejects purge collections --settled-before 30d   one feed",
      "",
      "The ledger keeps their number, so 'dusky balance' still agrees."
    })
final class RejectsPurgeCommand extends DuskyCommand {

  @Parameters(arity = "0..1", paramLabel = "FEED", description = "The feed; default: all.")
  String feed;

  @Option(
      names = "--settled-before",
      paramLabel = "AGE",
      required = true,
      description = "The minimum age since they were settled, in days (400d) or hours (12h).")
  String age;

  @Override
  int run(Screen screen) {
    if (!age.matches("\\d{1,5}[dh]")) {
      throw Failure.usage("--settled-before cannot be '" + age + "'").hint("Write 400d or 12h");
    }
    long number = Long.parseLong(age.substring(0, age.length() - 1));
    Duration before = age.endsWith("d") ? Duration.ofDays(number) : Duration.ofHours(number);
    try (Workspace workspace = new Workspace(configFile())) {
      long removed = new ReviewRejects(workspace).purge(feed, before);
      screen.object(Map.of("event", "purged", "rejects", removed));
      screen.line(Figures.plural(removed, "settled reject") + " removed; open ones stay");
    }
    return 0;
  }
}
