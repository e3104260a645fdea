package dev.dusky.cli.command;

import dev.dusky.cli.render.Figures;
import dev.dusky.cli.render.ProgressLine;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.stage.LocalFile;
import dev.dusky.core.stage.LocalFiles;
import dev.dusky.core.stage.StageListener;
import dev.dusky.core.stage.StageResult;
import dev.dusky.core.stage.Stager;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Puts local files into a depot. */
@Command(
    name = "stage",
    description = "Puts local files into a depot: several at a time, verified by checksum.",
    footer = {
      "",
      "Examples:",
      "  dusky stage yard outbox                     everything below the directory outbox",
      "  dusky stage yard 06.csv.gz --under daily    one file, as daily/06.csv.gz",
      "",
      "A file that is there already with the same content is passed over, so an interrupted",
      "staging is simply run again. One that is there with other content is left alone unless",
      "--replace is given."
    })
final class StageCommand extends DuskyCommand {

  private static final int MOST_LISTED = 40;

  @Parameters(index = "0", paramLabel = "DEPOT", description = "The depot.")
  String depotName;

  @Parameters(
      index = "1..*",
      arity = "1..*",
      paramLabel = "PATH",
      description = "Local files and directories; a directory stands for what is below it.")
  List<Path> paths;

  @Option(names = "--under", paramLabel = "FOLDER", description = "The folder in the depot.")
  String under = "";

  @Option(names = "--replace", description = "Replace files that are there with other content.")
  boolean replace;

  @Option(
      names = "--parallel",
      paramLabel = "N",
      description = "How many files at a time; 4 if not given.")
  int parallel = 4;

  @Option(
      names = "--manifest",
      paramLabel = "PATH",
      description = "Write a manifest of these files to this path of the depot.")
  String manifest;

  @Override
  int run(Screen screen) throws Exception {
    if (parallel < 1 || parallel > 64) {
      throw Failure.usage("--parallel must be from 1 to 64");
    }
    try (Workspace workspace = new Workspace(configFile())) {
      Depot depot = workspace.depot(depotName);
      List<LocalFile> files = LocalFiles.find(paths.stream().map(this::local).toList(), under);
      Progress progress = new Progress(screen);
      progress.begin(files);
      StageResult result = new Stager(depot, replace, parallel).run(files, progress);
      progress.end();
      screen.line(
          "%s  %d staged (%s), %d there already, %d left alone   %s"
              .formatted(
                  screen.style().strong(depot.name()),
                  result.staged(),
                  Figures.bytes(result.bytes()),
                  result.same(),
                  result.differing(),
                  Figures.duration(result.elapsed())));
      Map<String, Object> fields = new LinkedHashMap<>();
      fields.put("event", "staged");
      fields.put("depot", depot.name());
      fields.put("staged", result.staged());
      fields.put("bytes", result.bytes());
      fields.put("same", result.same());
      fields.put("differing", result.differing());
      screen.object(fields);
      if (manifest != null && result.differing() == 0) {
        StagedManifest.write(depot, manifest, files);
        screen.line(
            "manifest of %s at %s:%s"
                .formatted(Figures.plural(files.size(), "file"), depot.name(), manifest));
      }
      return result.differing() == 0 ? 0 : Failure.Kind.FILE.exitCode();
    }
  }

  /** Shows each file as it is done and, on a terminal, how far all of it is. */
  private static final class Progress implements StageListener {
    private final Screen screen;
    private final ProgressLine line;
    private long bytes;
    private int listed;

    Progress(Screen screen) {
      this.screen = screen;
      this.line = new ProgressLine(screen);
    }

    void begin(List<LocalFile> files) {
      line.start(
          files.size() == 1 ? "1 file" : Figures.count(files.size()) + " files",
          files.stream().mapToLong(LocalFile::size).sum());
    }

    @Override
    public synchronized void sent(long count) {
      bytes += count;
      line.update(bytes, 0);
    }

    @Override
    public synchronized void done(LocalFile file, Outcome outcome) {
      line.clear();
      screen.object(Map.of("event", "file", "path", file.path(), "outcome", outcome.label()));
      if (outcome != Outcome.DIFFERING && ++listed > MOST_LISTED) {
        return;
      }
      String word = "%-14s".formatted(outcome.label());
      screen.line(
          "  "
              + (outcome == Outcome.STAGED
                  ? screen.style().good(word)
                  : outcome == Outcome.SAME ? screen.style().faint(word) : screen.style().bad(word))
              + " "
              + file.path()
              + screen.style().faint("  " + Figures.bytes(file.size())));
      if (outcome == Outcome.DIFFERING) {
        screen.line(
            "                 is there with other content; --replace puts the new one in its place");
      }
    }

    void end() {
      line.clear();
      if (listed > MOST_LISTED) {
        screen.line(screen.style().faint("  and " + (listed - MOST_LISTED) + " more"));
      }
    }
  }
}
