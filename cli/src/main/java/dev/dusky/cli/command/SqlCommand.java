package dev.dusky.cli.command;

import dev.dusky.app.sql.AskStaged;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.ResultReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Runs one statement. */
@Command(
    name = "sql",
    description =
        "Runs one SQL statement on the warehouse, or on staged files, and prints the result.",
    footer = {
      "",
      "Examples:",
      "  dusky sql \"select feed, state, count(*) from dusky.file group by feed, state\"",
      "  dusky sql --json \"select * from dusky.load_total\"",
      "  dusky sql --staged \"select farm_code, sum(litres) from collections group by 1\"",
      "",
      "With --staged each feed that the statement names is a table of what a load",
      "would make of its staged files; nothing is loaded. At most 1 000 rows are",
      "printed; with --json all rows are streamed."
    })
final class SqlCommand extends DuskyCommand {

  @Parameters(paramLabel = "STATEMENT", description = "The statement.")
  String statement;

  @Option(names = "--staged", description = "Ask staged files; feeds are the tables.")
  boolean staged;

  @Option(
      names = "--rows",
      paramLabel = "N",
      description = "With --staged: read about this many rows of each feed; default: 1000000.")
  long rows = 1_000_000;

  @Override
  int run(Screen screen) {
    ResultReport report = new ResultReport(screen);
    try (Workspace workspace = new Workspace(configFile())) {
      if (staged) {
        ask(workspace, report);
      } else {
        workspace.bareWarehouse().run(statement, report);
      }
      report.end();
    }
    return 0;
  }

  private void ask(Workspace workspace, ResultReport report) {
    if (rows < 1) {
      throw Failure.usage("--rows must be at least 1");
    }
    try (StopSignal stop = StopSignal.install()) {
      new AskStaged(workspace, rows, stop::requested).run(statement, report::filled, report);
    }
  }
}
