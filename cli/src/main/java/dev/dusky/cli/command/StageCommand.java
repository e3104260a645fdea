package dev.dusky.cli.command;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.stage.StageFiles;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.process.ExitCode;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.StageReport;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.stage.StageResult;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Puts local files into a depot. */
@Command(
    name = "stage",
    description = "Copies local files into a depot, several at a time, verified by checksum.",
    footer = {
      "",
      "Examples:",
      "  dusky stage yard outbox                     everything below the directory outbox",
      "  dusky stage yard 06.csv.gz --under daily    one file, as daily/06.csv.gz",
      "",
      "An existing file with the same content is skipped, so an interrupted",
      "staging can simply be run again. One with other content is not replaced unless",
      "--replace is given."
    })
final class StageCommand extends DuskyCommand {

  @Parameters(index = "0", paramLabel = "DEPOT", description = "The depot.")
  String depotName;

  @Parameters(
      index = "1..*",
      arity = "1..*",
      paramLabel = "PATH",
      description = "Local files and directories; a directory includes everything below it.")
  List<Path> paths;

  @Option(names = "--under", paramLabel = "FOLDER", description = "The folder in the depot.")
  String under = "";

  @Option(names = "--replace", description = "Replace existing files with other content.")
  boolean replace;

  @Option(
      names = "--parallel",
      paramLabel = "N",
      description = "Maximum number of concurrent files; default: 4.")
  int parallel = 4;

  @Option(
      names = "--manifest",
      paramLabel = "PATH",
      description = "Write a manifest of these files to this path of the depot.")
  String manifest;

  @Override
  int run(Screen screen) throws IOException {
    try (Workspace workspace = new Workspace(configFile())) {
      StageFiles files =
          new StageFiles(workspace, depotName, paths.stream().map(this::local).toList(), under);
      StageReport report = new StageReport(screen);
      report.begin(files.files());
      StageResult result = files.run(replace, parallel, report);
      report.end(depotName, result);
      if (result.differing() > 0) {
        return ExitCode.of(Failure.Kind.FILE);
      }
      if (manifest != null) {
        files.manifest(Optional.of(manifest));
        screen.line(
            "manifest of %s at %s:%s"
                .formatted(Figures.plural(files.files().size(), "file"), depotName, manifest));
      }
      return 0;
    }
  }
}
