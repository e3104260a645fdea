package dev.dusky.cli.command;

import dev.dusky.app.reject.ReviewRejects;
import dev.dusky.app.reject.ReviewRejects.Group;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.GroupReport;
import dev.dusky.cli.render.RejectReport;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.RejectChoice;
import dev.dusky.core.reject.StoredReject;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** Shows rejects one by one. */
@Command(
    name = "show",
    description = "Shows rejected records as in their file, with each fault underlined.",
    footer = {"", "Examples:", "  dusky rejects show 17", "  dusky rejects show 17 18 --json"})
final class RejectsShowCommand extends DuskyCommand {

  @Parameters(paramLabel = "ID", arity = "1..*", description = "The numbers of the rejects.")
  List<Long> ids;

  @Override
  int run(Screen screen) {
    try (Workspace workspace = new Workspace(configFile())) {
      ReviewRejects review = new ReviewRejects(workspace);
      List<StoredReject> found = review.list(RejectChoice.ids(ids), ids.size());
      for (StoredReject reject : found) {
        if (reject != found.get(0)) {
          screen.line("");
        }
        new RejectReport(screen).one(reject, review.feed(reject.feed()));
        if (!screen.json()) {
          GroupReport report = new GroupReport(screen, workspace.configuration());
          for (Group group : review.groups(RejectChoice.ids(List.of(reject.id())))) {
            group.feed().ifPresent(feed -> report.remedies(group.group(), group.rules(), feed));
          }
        }
      }
      ids.stream()
          .filter(id -> found.stream().noneMatch(reject -> reject.id() == id))
          .findFirst()
          .ifPresent(
              id -> {
                throw Failure.usage("There is no reject " + id)
                    .hint("See their numbers with 'dusky rejects --list 10'");
              });
    }
    return 0;
  }
}
