package dev.dusky.cli.command;

import dev.dusky.app.config.DurationText;
import dev.dusky.app.tidy.TidyTables;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.TidyReport;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.tidy.TidyOrder;
import java.time.Duration;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** Keeps tables in object storage tidy. */
@Command(
    name = "tidy",
    description =
        "Rewrites small files of tables in object storage, and removes what is left over.",
    footer = {
      "",
      "Examples:",
      "  dusky tidy --rehearse                what it would do; nothing is changed",
      "  dusky tidy                           do it; once a night is usual",
      "  dusky tidy --older 7d                keep former states and leftovers for a week",
      "",
      "Small data files become large ones, states of a table that are older are forgotten,",
      "and files are removed that no table needs, such as those of a killed load. The rows",
      "stay the same. Each table that changes has an entry in the journal."
    })
final class TidyCommand extends DuskyCommand {

  @Option(names = "--rehearse", description = "Only show what would be done.")
  boolean rehearse;

  @Option(
      names = "--older",
      paramLabel = "SPAN",
      description = "How old what is removed must be; default: 3d. At least an hour.")
  String older;

  @Override
  int run(Screen screen) {
    try (Workspace workspace = new Workspace(configFile())) {
      TidyReport report = new TidyReport(screen, rehearse);
      new TidyTables(workspace).run(age(), rehearse, report::show);
      return report.end();
    }
  }

  private Duration age() {
    return older == null
        ? TidyOrder.OLD
        : DurationText.parse(older)
            .orElseThrow(
                () ->
                    Failure.usage("--older cannot be '" + older + "'")
                        .hint("Write a span such as 12 h or 7 d"));
  }
}
