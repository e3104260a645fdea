package dev.dusky.cli.command;

import dev.dusky.app.stage.StageSource;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.SourceReport;
import dev.dusky.core.failure.Failure;
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
  static boolean named(List<String> paths) {
    return paths.stream().anyMatch(path -> path.startsWith(StageSource.PREFIX));
  }

  /** Stages the sources, one after the other. */
  int run(Screen screen, Workspace workspace, String depot, List<String> paths, int parallel) {
    for (String path : paths) {
      if (!path.startsWith(StageSource.PREFIX)) {
        throw Failure.usage("Files and sources cannot be staged together")
            .because("'%s' is not a source".formatted(path))
            .hint("Run it once for the sources and once for the files");
      }
    }
    try (StopSignal stop = StopSignal.install()) {
      for (String path : paths) {
        String name = path.substring(StageSource.PREFIX.length());
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
