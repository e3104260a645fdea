package dev.dusky.cli.command;

import dev.dusky.app.stage.StageSource;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.SourceReport;
import dev.dusky.core.failure.Failure;
import java.nio.file.Path;
import java.util.List;
import picocli.CommandLine.Option;

/** The options of staging sources, and doing it. */
final class SourceOptions {

  @Option(
      names = "--all",
      description = "With a source: read all rows, not only those that are newer.")
  boolean all;

  @Option(
      names = "--new-shape",
      description = "With a source: accept that its query has other columns than before.")
  boolean newShape;

  /** Whether sources are named among the paths. */
  static boolean named(List<Path> paths) {
    return paths.stream().anyMatch(path -> path.toString().startsWith(StageSource.PREFIX));
  }

  /** Stages the sources, one after the other. */
  int run(Screen screen, Workspace workspace, String depot, List<Path> paths, int parallel) {
    for (Path path : paths) {
      if (!path.toString().startsWith(StageSource.PREFIX)) {
        throw Failure.usage("Files and sources cannot be staged together")
            .because("'%s' is not a source".formatted(path))
            .hint("Run it once for the sources and once for the files");
      }
    }
    try (StopSignal stop = StopSignal.install()) {
      for (Path path : paths) {
        String name = path.toString().substring(StageSource.PREFIX.length());
        SourceReport report = new SourceReport(screen, name);
        report.end(
            depot,
            new StageSource(workspace, depot, name)
                .run(all, newShape, parallel, report, stop::requested));
      }
    }
    return 0;
  }
}
