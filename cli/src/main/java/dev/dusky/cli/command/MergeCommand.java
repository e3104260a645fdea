package dev.dusky.cli.command;

import dev.dusky.app.alert.Alerts;
import dev.dusky.app.merge.RunMerges;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.process.ExitCode;
import dev.dusky.cli.render.MergeReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.merge.Merge;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalLong;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Merges landed rows into targets. */
@Command(
    name = "merge",
    description = "Merges landed rows into target tables by key.",
    footer = {
      "",
      "Examples:",
      "  dusky merge                     all landed rows, dimensions before facts",
      "  dusky merge farm --rehearse     show the changes and roll them back",
      "  dusky merge collection --retry  only its rejected rows, after their cause is fixed",
      "  dusky merge farm --show-sql     the statements, with the purpose of each",
      "  dusky merge farm --fill owner   fill a column that landed later",
      "",
      "Each merge is one transaction with its ledger entry. Merged rows are not merged",
      "again, and rows without a change are not written, so running it again is always",
      "safe. Exits with 1 if rows were rejected."
    })
final class MergeCommand extends DuskyCommand {

  @Parameters(
      paramLabel = "NAME",
      arity = "0..*",
      description = "The merges to run, in the order of their dependencies; default: all.")
  List<String> names = new ArrayList<>();

  @Option(names = "--rehearse", description = "Show the changes and roll them back.")
  boolean rehearse;

  @Option(
      names = {"-n", "--changes"},
      paramLabel = "N",
      description = "Maximum number of changes per kind in a rehearsal; default: 5.")
  int most = 5;

  @Option(names = "--retry", description = "Merge only rejected rows again.")
  boolean retry;

  @Option(
      names = "--fill",
      paramLabel = "COLUMN",
      split = ",",
      description = {
        "Fill columns of the target from rows merged before, adding those it lacks.",
        "Merges no new rows."
      })
  List<String> fill = new ArrayList<>();

  @Option(names = "--show-sql", description = "Print the statements and run nothing.")
  boolean showSql;

  @Override
  int run(Screen screen) {
    if (most < 1) {
      throw Failure.usage("--changes must be 1 or more");
    }
    if (!fill.isEmpty() && (names.size() != 1 || rehearse || retry || showSql)) {
      throw Failure.usage("--fill needs the name of one merge and no other option");
    }
    try (Workspace workspace = new Workspace(configFile())) {
      RunMerges merging = new RunMerges(workspace);
      List<Merge> merges = merging.named(names);
      MergeReport report = new MergeReport(screen, rehearse);
      if (!fill.isEmpty()) {
        report.filled(merges.get(0), fill, merging.fill(merges.get(0), fill));
        return 0;
      }
      if (showSql) {
        merges.forEach(merge -> report.script(merge, merging.script(merge)));
        return 0;
      }
      OptionalLong shown =
          rehearse ? OptionalLong.of(json ? Long.MAX_VALUE : most) : OptionalLong.empty();
      RunMerges.Outcome outcome = merging.run(merges, retry, shown, report);
      report.end();
      if (!rehearse) {
        new Alerts(workspace, screen::remark).settle(List.of(), merges);
      }
      Failure.Kind kind = outcome.failure().map(Failure::kind).orElse(Failure.Kind.FILE);
      return outcome.clean() && outcome.failure().isEmpty() ? 0 : ExitCode.of(kind);
    }
  }
}
