package dev.dusky.cli.command;

import dev.dusky.app.reject.RejectFilter;
import dev.dusky.app.reject.ReviewRejects;
import dev.dusky.app.reject.ReviewRejects.Group;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.GroupReport;
import dev.dusky.cli.render.RejectReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.RejectChoice;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Groups, lists and settles rejects. */
@Command(
    name = "rejects",
    description = "Groups the open rejects by column and reason, with remedies.",
    subcommands = {
      RejectsShowCommand.class,
      RejectsExportCommand.class,
      RejectsWaiveCommand.class,
      RejectsPurgeCommand.class
    },
    footer = {
      "",
      "Examples:",
      "  dusky rejects                          all feeds",
      "  dusky rejects collections --list 100   one feed, with its first 100 rejects",
      "  dusky rejects show 17                  one reject, with each fault underlined",
      "  dusky rejects --json --list 1000000    all rejects as JSON"
    })
final class RejectsCommand extends DuskyCommand {

  @Parameters(arity = "0..1", paramLabel = "FEED", description = "The feed; default: all.")
  String feed;

  @Option(
      names = "--list",
      paramLabel = "N",
      description = "Maximum number of rejects to list after the groups; none by default.")
  int most;

  @Option(
      names = "--state",
      paramLabel = "STATE",
      description = "Rejects in this state: open (default), mended, waived, or any.")
  String state = "open";

  @Mixin RejectOptions filter = new RejectOptions();

  @Override
  int run(Screen screen) {
    if (most < 0) {
      throw Failure.usage("--list must not be negative");
    }
    try (Workspace workspace = new Workspace(configFile())) {
      ReviewRejects review = new ReviewRejects(workspace);
      RejectChoice choice =
          review.choice(filter.filter(), feed, List.of(), RejectFilter.state(state));
      List<Group> groups = review.groups(choice);
      if (groups.isEmpty()) {
        screen.line("any".equals(state) ? "no rejects" : "no " + state + " rejects");
        return 0;
      }
      RejectReport report = new RejectReport(screen);
      report.groups(groups, new GroupReport(screen, workspace.configuration()));
      if (most > 0) {
        report.list(review.list(choice, most));
      }
    }
    return 0;
  }
}
