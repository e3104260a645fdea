package dev.dusky.cli.command;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.reject.RejectFilter;
import dev.dusky.app.reject.ReviewRejects;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.process.ExitCode;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.RejectChoice;
import dev.dusky.core.reject.RejectState;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Closes rejects that will not be repaired. */
@Command(
    name = "waive",
    description = "Closes open rejects permanently, with a reason.",
    footer = {
      "",
      "Examples:",
      "  dusky rejects waive 17 18 --reason \"farm closed in 2019\"",
      "  dusky rejects waive collections --code key-taken --reason \"repeats of load 3\"",
      "",
      "A waived record is never loaded; the ledger keeps who waived it, when and why."
    })
final class RejectsWaiveCommand extends DuskyCommand {

  @Parameters(
      paramLabel = "FEED|ID",
      arity = "1..*",
      description = "A feed, or the numbers of rejects.")
  List<String> which = new ArrayList<>();

  @Option(names = "--reason", paramLabel = "TEXT", required = true, description = "The reason.")
  String reason;

  @Mixin RejectOptions filter = new RejectOptions();

  @Override
  int run(Screen screen) {
    if (reason.isBlank()) {
      throw Failure.usage("--reason must not be empty; it is kept in the ledger");
    }
    Selected selected = Selected.of(which);
    RejectFilter chosen = filter.filter();
    try (Workspace workspace = new Workspace(configFile())) {
      ReviewRejects review = new ReviewRejects(workspace);
      if (selected.ids().isEmpty() && chosen.isEmpty()) {
        throw Failure.usage("This would waive every open reject of feed " + selected.feed())
            .hint("Restrict it with --column, --code, --file or --load, or name the rejects");
      }
      RejectChoice choice =
          review.choice(chosen, selected.feed(), selected.ids(), Optional.of(RejectState.OPEN));
      long waived = review.waive(choice, reason.strip());
      screen.object(Map.of("event", "waived", "rejects", waived, "reason", reason.strip()));
      screen.line("%s waived: %s".formatted(Figures.plural(waived, "reject"), reason.strip()));
      long left = selected.ids().isEmpty() ? 0 : selected.ids().size() - waived;
      if (waived > 0 && left == 0) {
        return 0;
      }
      screen.remark(
          selected.ids().isEmpty()
              ? "No open reject matches"
              : "%s not open or unknown; nothing was done with %s"
                  .formatted(
                      left == 1 ? "1 of them is" : left + " of them are",
                      left == 1 ? "it" : "them"));
      return ExitCode.of(Failure.Kind.FILE);
    }
  }
}
