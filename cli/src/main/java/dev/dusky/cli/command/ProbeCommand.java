package dev.dusky.cli.command;

import dev.dusky.app.probe.NeededGrants;
import dev.dusky.app.probe.NeededPolicies;
import dev.dusky.app.probe.ProbePlaces;
import dev.dusky.app.watch.ProbeNotices;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.process.ExitCode;
import dev.dusky.cli.render.ProbeReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import java.time.Duration;
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
      "  dusky probe yard --policy    the smallest policy that the feeds need of a store",
      "  dusky probe --notices        whether notices of new files come to the queue",
      "",
      "Each feed's files are listed and read, and what it archives, removes or rejects to is",
      "tried with small files, which are removed again, as is a small table; --read-only",
      "skips what writes."
    })
final class ProbeCommand extends DuskyCommand {

  private static final String WAREHOUSE = "warehouse";

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

  @Option(
      names = "--policy",
      description =
          "Print the smallest access policies that the feeds need: statements in the JSON policy"
              + " language of S3 stores, role assignments of Azure, and the grants of the"
              + " warehouse's role.")
  boolean policy;

  @Option(
      names = "--staging",
      description = "With --policy: with the rights that 'dusky stage' needs in each depot.")
  boolean staging;

  @Option(
      names = "--notices",
      description =
          "Stage a small file for each feed (NAME then names feeds), and say whether its notice"
              + " came to the queue, after how long, or where it was lost.")
  boolean notices;

  @Option(
      names = "--patience",
      paramLabel = "SECONDS",
      description = "With --notices: how long a notice may take; default: ${DEFAULT-VALUE}.")
  int patience = 60;

  @Override
  int run(Screen screen) {
    try (Workspace workspace = new Workspace(configFile())) {
      ProbeReport report = new ProbeReport(screen, debug);
      if (grants != null) {
        NeededGrants.of(workspace, grants).forEach(report::grants);
        return 0;
      }
      if (policy) {
        NeededPolicies.of(workspace, places(), staging).forEach(report::policy);
        if (names.isEmpty() || names.contains(WAREHOUSE)) {
          NeededGrants.role(workspace)
              .ifPresent(role -> NeededGrants.of(workspace, role).forEach(report::grants));
        }
        return 0;
      }
      if (notices) {
        return notices(workspace, report);
      }
      ProbePlaces probe = new ProbePlaces(workspace, readOnly, report);
      probe.run(names);
      report.end(probe.failures());
      return probe.firstKind().map(ExitCode::of).orElse(0);
    }
  }

  private int notices(Workspace workspace, ProbeReport report) {
    int lost = 0;
    ProbeNotices probe = new ProbeNotices(workspace, Duration.ofSeconds(patience));
    for (Feed feed : workspace.configuration().feedsOrAll(names)) {
      ProbeNotices.Outcome outcome = probe.run(feed);
      report.notice(outcome);
      lost += outcome.came() ? 0 : 1;
    }
    report.end(lost);
    return lost == 0 ? 0 : ExitCode.of(Failure.Kind.DEPOT);
  }

  private List<String> places() {
    return names.stream().filter(name -> !name.equals(WAREHOUSE)).toList();
  }
}
