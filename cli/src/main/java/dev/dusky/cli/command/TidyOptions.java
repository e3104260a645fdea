package dev.dusky.cli.command;

import dev.dusky.app.config.DurationText;
import dev.dusky.app.stage.TidyUploads;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.StageReport;
import dev.dusky.core.failure.Failure;
import java.time.Duration;
import picocli.CommandLine.Option;

/** The options that drop unfinished uploads, and doing so. */
final class TidyOptions {

  @Option(
      names = "--tidy",
      description = "Drop unfinished uploads of this depot that are older than a day.")
  boolean asked;

  @Option(
      names = "--older",
      paramLabel = "SPAN",
      description = "With --tidy: drop those older than this instead, such as 2 h.")
  String older;

  int run(Screen screen, Workspace workspace, String depot, boolean rehearse) {
    TidyUploads uploads = new TidyUploads(workspace, depot, age());
    new StageReport(screen).tidied(depot, rehearse, uploads::run);
    return 0;
  }

  private Duration age() {
    return older == null
        ? TidyUploads.OLD
        : DurationText.parse(older)
            .orElseThrow(
                () ->
                    Failure.usage("--older cannot be '" + older + "'")
                        .hint("Write a span such as 30 min, 2 h or 1 d"));
  }
}
