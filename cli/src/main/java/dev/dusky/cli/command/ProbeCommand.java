package dev.dusky.cli.command;

import dev.dusky.app.probe.NeededGrants;
import dev.dusky.app.probe.ProbePlaces;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.process.ExitCode;
import dev.dusky.cli.render.ProbeReport;
import dev.dusky.cli.render.Screen;
import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Tries every right that is needed. */
@Command(
    name = "probe",
    description = "Checks each right on each depot and on the warehouse.",
    footer = {
      "",
      "Examples:",
      "  dusky probe                  check everything the configuration names",
      "  dusky probe yard             check one depot",
      "  dusky probe warehouse        check the warehouse",
      "  dusky probe --grants loader  the rights that role loader needs, as statements",
      "",
      "Write access is checked with a small file and a small table, which are removed again;",
      "--read-only skips that."
    })
final class ProbeCommand extends DuskyCommand {

  @Parameters(
      paramLabel = "NAME",
      arity = "0..*",
      description = "Depots to check, or 'warehouse'; everything if none.")
  List<String> names = new ArrayList<>();

  @Option(names = "--read-only", description = "Do not try to write.")
  boolean readOnly;

  @Option(
      names = "--grants",
      paramLabel = "ROLE",
      description = "Print the grants that a role of PostgreSQL needs to read, load or merge.")
  String grants;

  @Override
  int run(Screen screen) {
    try (Workspace workspace = new Workspace(configFile())) {
      ProbeReport report = new ProbeReport(screen, debug);
      if (grants != null) {
        NeededGrants.of(workspace, grants).forEach(report::grants);
        return 0;
      }
      ProbePlaces probe = new ProbePlaces(workspace, readOnly, report);
      probe.run(names);
      report.end(probe.failures());
      return probe.firstKind().map(ExitCode::of).orElse(0);
    }
  }
}
