package dev.dusky.cli.command;

import dev.dusky.app.reject.ReversePostings;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.ReversalReport;
import dev.dusky.cli.render.Screen;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Undoes posted loads and files. */
@Command(
    name = "reverse",
    description = "Removes exactly the rows of a load or file from the landing table.",
    footer = {
      "",
      "Examples:",
      "  dusky reverse 12 --reason \"wrong day\"                    all files of load 12",
      "  dusky reverse collections/2026-03-02/05.csv.gz            one file",
      "  dusky reverse 12 --even-merged                            although rows are merged",
      "",
      "Nothing is deleted from the ledger: a reversing entry is written, and the files wait to be",
      "loaded again. Reversing a load of kind mend reopens its rejects."
    })
final class ReverseCommand extends DuskyCommand {

  @Parameters(paramLabel = "LOAD|FILE", description = "A load's number, or a file's path.")
  String what;

  @Option(
      names = "--feed",
      paramLabel = "FEED",
      description = "The feed, if the file belongs to several.")
  String feed;

  @Option(names = "--reason", paramLabel = "TEXT", description = "The reason; kept in the ledger.")
  String reason = "";

  @Option(
      names = "--even-merged",
      description =
          "Continue although rows are merged already; lists the merged rows of the targets.")
  boolean evenMerged;

  @Override
  int run(Screen screen) {
    try (Workspace workspace = new Workspace(configFile())) {
      new ReversalReport(screen)
          .show(
              new ReversePostings(workspace, reason, evenMerged)
                  .run(what, Optional.ofNullable(feed)));
    }
    return 0;
  }
}
