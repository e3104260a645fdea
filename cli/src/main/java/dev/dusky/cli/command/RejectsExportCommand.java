package dev.dusky.cli.command;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.reject.ReviewRejects;
import dev.dusky.app.reject.ReviewRejects.Exported;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.RejectChoice;
import dev.dusky.core.reject.RejectState;
import java.io.IOException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Writes rejects to files for repair. */
@Command(
    name = "export",
    description = "Writes the raw records of open rejects to a file for repair.",
    footer = {
      "",
      "Examples:",
      "  dusky rejects export collections                        all open rejects of a feed",
      "  dusky rejects export collections --column litres --to fix/litres",
      "",
      "The file is in the feed's own layout; each record begins with the number of its reject.",
      "Keep the numbers, correct the records, delete those that should stay open, and give the file",
      "to 'dusky mend'. The reasons are written to a second file."
    })
final class RejectsExportCommand extends DuskyCommand {

  @Parameters(paramLabel = "FEED", description = "The feed.")
  String feed;

  @Mixin RejectOptions filter = new RejectOptions();

  @Option(
      names = "--to",
      paramLabel = "NAME",
      description = "The file to write, without extension; default: FEED-rejects.")
  Path to;

  @Option(names = "--replace", description = "Replace existing files.")
  boolean replace;

  @Override
  int run(Screen screen) throws IOException {
    Path base = local(to == null ? Path.of(feed + "-rejects") : to).toAbsolutePath().normalize();
    try (Workspace workspace = new Workspace(configFile())) {
      Feed declared = workspace.configuration().feed(feed);
      ReviewRejects review = new ReviewRejects(workspace);
      RejectChoice choice =
          review.choice(filter.filter(), feed, List.of(), Optional.of(RejectState.OPEN));
      Exported exported = review.export(declared, choice, base, replace);
      List<String> shown = exported.files().stream().map(this::shown).toList();
      Map<String, Object> fields = new LinkedHashMap<>();
      fields.put("event", "exported");
      fields.put("feed", feed);
      fields.put("rejects", exported.count());
      fields.put("files", shown);
      screen.object(fields);
      screen.line(
          "%s written%s"
              .formatted(
                  Figures.plural(exported.count(), "open reject"),
                  shown.isEmpty() ? "" : " to " + String.join(", ", shown)));
    }
    return 0;
  }

  private String shown(Path path) {
    Path from = local(Path.of("")).toAbsolutePath().normalize();
    return path.startsWith(from) ? from.relativize(path).toString() : path.toString();
  }
}
