package dev.dusky.cli.command;

import dev.dusky.cli.render.GroupReport;
import dev.dusky.cli.render.Moments;
import dev.dusky.cli.render.RecordView;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.Style;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.core.advice.ProblemGroup;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.RejectChoice;
import dev.dusky.core.mend.MarkedRecord;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.StoredReject;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** Shows rejects one by one. */
@Command(
    name = "show",
    description = "Shows rejected records as they stand in their file, each fault underlined.",
    footer = {"", "Examples:", "  dusky rejects show 17", "  dusky rejects show 17 18 --json"})
final class RejectsShowCommand extends DuskyCommand {

  @Parameters(paramLabel = "ID", arity = "1..*", description = "The numbers of the rejects.")
  List<Long> ids;

  @Override
  int run(Screen screen) {
    try (Workspace workspace = new Workspace(configFile())) {
      RejectBook book = workspace.warehouse().rejects();
      List<StoredReject> found = book.list(RejectChoice.ids(ids), ids.size());
      for (StoredReject reject : found) {
        if (reject != found.get(0)) {
          screen.line("");
        }
        show(screen, workspace, book, reject);
      }
      List<Long> missing =
          ids.stream().filter(id -> found.stream().noneMatch(r -> r.id() == id)).toList();
      if (!missing.isEmpty()) {
        throw Failure.usage("There is no reject " + missing.get(0))
            .next("See their numbers with 'dusky rejects --list 10'");
      }
    }
    return 0;
  }

  private static void show(
      Screen screen, Workspace workspace, RejectBook book, StoredReject reject) {
    Style style = screen.style();
    screen.line(
        style.strong("reject " + reject.id())
            + "  "
            + style.state(reject.state().label())
            + "  "
            + style.strong(reject.where())
            + style.faint(
                "  feed %s, record %d, byte %d, found by load %d at %s"
                    .formatted(
                        reject.feed(),
                        reject.reject().recordNumber(),
                        reject.reject().byteOffset(),
                        reject.loadId(),
                        Moments.minute(reject.recordedAt()))));
    reject
        .settledAt()
        .ifPresent(
            at ->
                screen.line(
                    "  %s by %s at %s%s"
                        .formatted(
                            reject.state().label(),
                            reject.settledBy().orElse(""),
                            Moments.minute(at),
                            reject.reason().map(r -> ": " + r).orElse(""))));
    if (reject.tried().isPresent()) {
      screen.line("  this is the repaired version that was tried last; it is still wrong");
    }
    Optional<Feed> feed = Optional.ofNullable(workspace.configuration().feeds().get(reject.feed()));
    screen.line("");
    feed.ifPresent(
        f ->
            new RecordView(style, screen.terminal().width())
                .lines(MarkedRecord.of(f, reject), reject.reject().line())
                .forEach(screen::line));
    screen.line("");
    for (Problem problem : reject.reject().problems()) {
      screen.object(RejectsCommand.json(reject, problem));
    }
    if (!screen.json()) {
      GroupReport report = new GroupReport(screen, workspace.configuration());
      for (ProblemGroup group : book.groups(RejectChoice.ids(List.of(reject.id()))).groups()) {
        feed.ifPresent(f -> report.ways(group, workspace.warehouse().rules(f.into()), f));
      }
    }
  }
}
