package dev.dusky.cli.command;

import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.ResultReport;
import dev.dusky.cli.render.Screen;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** Runs one statement. */
@Command(
    name = "sql",
    description = "Runs one SQL statement on the warehouse and prints the result.",
    footer = {
      "",
      "Examples:",
      "  dusky sql \"select feed, state, count(*) from dusky.file group by feed, state\"",
      "  dusky sql --json \"select * from dusky.load_total\"",
      "",
      "At most 1 000 rows are printed; with --json all rows are streamed."
    })
final class SqlCommand extends DuskyCommand {

  @Parameters(paramLabel = "STATEMENT", description = "The statement.")
  String statement;

  @Override
  int run(Screen screen) {
    try (Workspace workspace = new Workspace(configFile())) {
      ResultReport report = new ResultReport(screen);
      workspace.bareWarehouse().run(statement, report);
      report.end();
    }
    return 0;
  }
}
