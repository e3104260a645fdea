package dev.dusky.cli.command;

import dev.dusky.app.preview.PeekFile;
import dev.dusky.app.preview.PeekRequest;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.PeekReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.bytes.FileContent;
import java.io.IOException;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Shows records of a file. */
@Command(
    name = "peek",
    description = {
      "Shows records of a staged file as a layout reads them, with types.",
      "",
      "With a feed its layout and columns are used; a file alone (DEPOT:PATH) is",
      "analysed first and read with the layout found. Any layout option can",
      "be tried with --with. Records that a load would reject are marked. Only the",
      "needed part of the file is read."
    },
    footer = {
      "",
      "Examples:",
      "  dusky peek collections             the feed's first file",
      "  dusky peek yard:farms/registry-2026-03-01.txt --with 'delimiter=|'",
      "  dusky peek collections --where 'litres > 9000' --columns docket_no,litres",
      "  dusky peek collections --count",
      "  dusky peek yard:tankers/fleet-2026-03-01.txt --raw"
    })
final class PeekCommand extends DuskyCommand {

  @Mixin PeekOptions options = new PeekOptions();

  @Option(
      names = "--columns",
      paramLabel = "NAMES",
      description = "Only these columns, in this order, separated by commas.")
  String columns;

  @Option(
      names = "--raw",
      description = "Show the file's bytes, with line ends and invisible characters visible.")
  boolean raw;

  @Override
  int run(Screen screen) throws IOException {
    PeekRequest request = options.request();
    try (Workspace workspace = new Workspace(configFile())) {
      PeekFile peek = new PeekFile(workspace, request);
      PeekReport report = new PeekReport(screen, Optional.ofNullable(columns));
      if (raw) {
        try (FileContent content = peek.content()) {
          report.raw(peek.file(), content, request.most());
        }
      } else {
        report.records(peek.records(), request.mode());
      }
    }
    return 0;
  }
}
