package dev.dusky.cli.command;

import dev.dusky.app.config.DurationText;
import dev.dusky.app.figures.Figures;
import dev.dusky.app.stage.StageFiles;
import dev.dusky.app.stage.TidyUploads;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.process.ExitCode;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.StageReport;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.stage.StageResult;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Puts local files into a depot. */
@Command(
    name = "stage",
    description = "Copies local files into a depot, several at a time, verified by checksum.",
    footer = {
      "",
      "Examples:",
      "  dusky stage yard outbox                    everything below this directory",
      "  dusky stage yard 06.csv.gz --under daily   one file, as daily/06.csv.gz",
      "  dusky stage yard outbox --include '*.csv' --limit-rate 5MB --move",
      "  dusky stage yard big.csv --split 256MB --compress zstd --manifest big.json",
      "  producer | dusky stage yard - --as events/{date}/{n}.jsonl.zst --roll 64MB,60s",
      "  dusky stage yard --tidy                    drop uploads that were never finished",
      "",
      "An existing file with the same content is skipped, and of a large file only the parts",
      "that are missing are sent, so an interrupted staging can simply be run again. An",
      "existing file with other content is not replaced unless --replace is given."
    })
final class StageCommand extends DuskyCommand {

  @Parameters(index = "0", paramLabel = "DEPOT", description = "The depot.")
  String depotName;

  @Parameters(
      index = "1..*",
      arity = "0..*",
      paramLabel = "PATH",
      description = "Local files and directories; a directory includes everything below it.")
  List<Path> paths = new ArrayList<>();

  @Mixin StageOptions options;

  @Mixin SplitOptions split;

  @Mixin StreamOptions stream;

  @Option(
      names = "--tidy",
      description = "Drop unfinished uploads of this depot that are older than a day.")
  boolean tidy;

  @Option(
      names = "--older",
      paramLabel = "SPAN",
      description = "With --tidy: drop those older than this instead, such as 2 h.")
  String older;

  @Override
  int run(Screen screen) throws IOException {
    try (Workspace workspace = new Workspace(configFile())) {
      StageReport report = new StageReport(screen);
      if (tidy) {
        TidyUploads uploads = new TidyUploads(workspace, depotName, age());
        report.tidied(depotName, options.dryRun, uploads::run);
        return 0;
      }
      if (paths.isEmpty()) {
        throw Failure.usage("No files to be staged are named")
            .hint("Name files or directories after the depot, or - for standard input");
      }
      if (paths.equals(List.of(Path.of("-")))) {
        return stream.run(
            screen, workspace, depotName, Optional.ofNullable(stream.spool).map(this::local));
      }
      StageFiles files =
          new StageFiles(
              workspace, depotName, options.chosen(paths.stream().map(this::local).toList()));
      if (options.dryRun) {
        report.meant(depotName, files.files());
        return 0;
      }
      report.begin(files.files());
      StageResult result =
          files.run(
              options.plan(),
              split.plan(),
              Optional.ofNullable(split.layout),
              Optional.ofNullable(options.manifest),
              report);
      report.end(depotName, result);
      if (!result.whole()) {
        return ExitCode.of(Failure.Kind.FILE);
      }
      if (options.manifest != null) {
        screen.line(
            "manifest of %s at %s:%s"
                .formatted(
                    Figures.plural(result.staged() + result.same(), "file"),
                    depotName,
                    options.manifest));
      }
      return 0;
    }
  }

  private java.time.Duration age() {
    return older == null
        ? TidyUploads.OLD
        : DurationText.parse(older)
            .orElseThrow(
                () ->
                    Failure.usage("--older cannot be '" + older + "'")
                        .hint("Write a span such as 30 min, 2 h or 1 d"));
  }
}
