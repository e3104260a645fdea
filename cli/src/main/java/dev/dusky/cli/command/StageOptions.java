package dev.dusky.cli.command;

import dev.dusky.app.config.SizeText;
import dev.dusky.app.stage.ChosenFiles;
import dev.dusky.app.stage.StageFiles;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.process.ExitCode;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.StageReport;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.stage.StagePlan;
import dev.dusky.core.stage.StageResult;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Option;

/** The options that say which files are staged, and how; and staging them. */
final class StageOptions {

  @Option(names = "--under", paramLabel = "FOLDER", description = "The folder in the depot.")
  String under = "";

  @Option(
      names = "--include",
      paramLabel = "GLOB",
      description = "Only files that match, such as '*.csv' or 'daily/**'; may be repeated.")
  List<String> include = new ArrayList<>();

  @Option(
      names = "--exclude",
      paramLabel = "GLOB",
      description = "No files that match; may be repeated.")
  List<String> exclude = new ArrayList<>();

  @Option(names = "--replace", description = "Replace existing files with other content.")
  boolean replace;

  @Option(
      names = "--move",
      description = "Remove each local file once the depot has been found to have its content.")
  boolean move;

  @Option(
      names = "--parallel",
      paramLabel = "N",
      description = "Maximum number of files and parts that are sent concurrently; default: 4.")
  int parallel = 4;

  @Option(
      names = "--limit-rate",
      paramLabel = "SIZE",
      description = "Send at most this many bytes a second, such as 5MB.")
  String rate;

  @Option(
      names = "--manifest",
      paramLabel = "PATH",
      description = "Write a manifest of these files to this path of the depot.")
  String manifest;

  @Option(names = "--dry-run", description = "Only show what would be done.")
  boolean dryRun;

  /** Stages the files. */
  int run(
      Screen screen,
      Workspace workspace,
      String depot,
      List<Path> paths,
      List<String> urls,
      SplitOptions split)
      throws IOException {
    if (paths.isEmpty() && urls.isEmpty()) {
      throw Failure.usage("No files to be staged are named")
          .hint("Name files, directories or URLs after the depot, or - for standard input");
    }
    ChosenFiles chosen = new ChosenFiles(paths, urls, under, include, exclude);
    try (StageFiles files = new StageFiles(workspace, depot, chosen)) {
      return run(screen, files, depot, split);
    }
  }

  private int run(Screen screen, StageFiles files, String depot, SplitOptions split)
      throws IOException {
    StageReport report = new StageReport(screen);
    if (dryRun) {
      report.meant(depot, files.files());
      return 0;
    }
    report.begin(files.files());
    StageResult result =
        files.run(
            plan(),
            split.plan(),
            Optional.ofNullable(split.layout),
            Optional.ofNullable(manifest),
            report);
    report.end(depot, result);
    if (result.whole() && manifest != null) {
      report.manifest(depot, manifest, result);
    }
    return result.whole() ? 0 : ExitCode.of(Failure.Kind.FILE);
  }

  private StagePlan plan() {
    return new StagePlan(
        replace, parallel, rate == null ? 0 : SizeText.option("--limit-rate", rate), move);
  }
}
