package dev.dusky.cli.command;

import dev.dusky.app.reject.MendRejects;
import dev.dusky.app.reject.RejectFilter;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.process.ExitCode;
import dev.dusky.cli.render.MendReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.mend.RepairMatcher.Matched;
import java.io.IOException;
import java.nio.file.Path;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Loads repaired rejects. */
@Command(
    name = "mend",
    description = "Loads repaired rejects into the rows of their files.",
    footer = {
      "",
      "Examples:",
      "  dusky mend collections-rejects.csv          records corrected in an exported file",
      "  dusky mend --retry collections              open rejects as they are, after the table or",
      "                                              the feed was changed",
      "  dusky mend --retry collections --column farm_code",
      "",
      "Each record goes through the same reading, typing and checks as any other. What is still",
      "wrong stays open with its new reasons; rejects not in the file stay open too. A reject can",
      "be mended only once."
    })
final class MendCommand extends DuskyCommand {

  @Parameters(
      arity = "1",
      paramLabel = "FILE|FEED",
      description = "An exported and corrected file; with --retry the feed.")
  String what;

  @Option(
      names = "--retry",
      description = "Read the open rejects of the feed again unchanged, without a file.")
  boolean retry;

  @Mixin RejectOptions filter = new RejectOptions();

  @Override
  int run(Screen screen) throws IOException {
    RejectFilter chosen = filter.filter();
    if (!retry && !chosen.isEmpty()) {
      throw Failure.usage("--column, --code, --file and --load need --retry")
          .hint("To mend only some records of a file, delete the others from it");
    }
    try (Workspace workspace = new Workspace(configFile())) {
      workspace.closeInterrupted();
      MendRejects mending = new MendRejects(workspace);
      MendReport report = new MendReport(screen);
      Matched matched =
          retry ? mending.open(what, chosen) : mending.read(what, local(Path.of(what)));
      matched.unmatched().forEach(report::unmatched);
      report.total(mending.run(matched, report));
      return report.clean() ? 0 : ExitCode.of(Failure.Kind.FILE);
    }
  }
}
