package dev.dusky.cli.command;

import dev.dusky.app.stage.RemoteFiles;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.Screen;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

/** Puts files into a depot. */
@Command(
    name = "stage",
    description = "Copies files into a depot, several at a time, verified by checksum.",
    footer = {
      "",
      "Examples:",
      "  dusky stage yard outbox                    everything below this directory",
      "  dusky stage yard 06.csv.gz --under daily   one file, as daily/06.csv.gz",
      "  dusky stage yard outbox --include '*.csv' --limit-rate 5MB --move",
      "  dusky stage yard big.csv --split 256MB --compress zstd --manifest m.json",
      "  producer | dusky stage yard - --as ev/{date}/{n}.jsonl.zst --roll 64MB,60s",
      "  dusky stage yard 'sftp://host/out/*.csv'   files of a partner's server",
      "  dusky stage yard source:customers          what is new in a database",
      "  dusky stage yard --tidy                    drop uploads left unfinished",
      "",
      "With --listen it takes records over HTTP, and answers once they are on disk.",
      "",
      "An existing file with the same content is skipped, and of a large file only",
      "missing parts are sent, so an interrupted staging can simply be run again.",
      "An existing file with other content is not replaced unless --replace is given."
    })
final class StageCommand extends DuskyCommand {

  @Parameters(index = "0", paramLabel = "DEPOT", description = "The depot.")
  String depotName;

  @Parameters(
      index = "1..*",
      arity = "0..*",
      paramLabel = "PATH",
      description =
          "Local files and directories, a directory with everything below it; URLs of https,"
              + " sftp or a store, with * in quotes; - for standard input; source:NAME for the"
              + " rows of a source.")
  List<String> paths = new ArrayList<>();

  @Mixin StageOptions options;

  @Mixin SplitOptions split;

  @Mixin StreamOptions stream;

  @Mixin SourceOptions source;

  @Mixin TidyOptions tidy;

  @Override
  int run(Screen screen) throws IOException {
    try (Workspace workspace = new Workspace(configFile())) {
      if (tidy.asked) {
        return tidy.run(screen, workspace, depotName, options.dryRun);
      }
      if (stream.listen != null || paths.equals(List.of("-"))) {
        return stream.run(
            screen, workspace, depotName, Optional.ofNullable(stream.spool).map(this::local));
      }
      if (SourceOptions.named(paths)) {
        return source.run(screen, workspace, depotName, paths, options.parallel);
      }
      Map<Boolean, List<String>> urls =
          paths.stream().collect(Collectors.partitioningBy(RemoteFiles::isUrl));
      return options.run(
          screen,
          workspace,
          depotName,
          urls.get(false).stream().map(path -> local(Path.of(path))).toList(),
          urls.get(true),
          split);
    }
  }
}
