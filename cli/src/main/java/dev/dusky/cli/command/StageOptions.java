package dev.dusky.cli.command;

import dev.dusky.app.config.SizeText;
import dev.dusky.app.stage.ChosenLocalFiles;
import dev.dusky.core.stage.StagePlan;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Option;

/** The options that say which local files are staged, and how. */
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

  ChosenLocalFiles chosen(List<Path> paths) {
    return new ChosenLocalFiles(paths, under, include, exclude);
  }

  StagePlan plan() {
    return new StagePlan(
        replace, parallel, rate == null ? 0 : SizeText.option("--limit-rate", rate), move);
  }
}
