package dev.dusky.cli.command;

import dev.dusky.cli.render.Figures;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.warehouses.JdbcWarehouse;
import dev.dusky.warehouses.landed.JdbcReversals;
import dev.dusky.warehouses.landed.JdbcReversals.LoadHead;
import dev.dusky.warehouses.landed.JdbcReversals.Merged;
import dev.dusky.warehouses.landed.JdbcReversals.Reversed;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Undoes posted loads and files. */
@Command(
    name = "reverse",
    description =
        "Takes the rows of a load or a file out of the landing table again, exactly those.",
    footer = {
      "",
      "Examples:",
      "  dusky reverse 12 --reason \"wrong day\"                    all files of load 12",
      "  dusky reverse collections/2026-03-02/05.csv.gz            one file",
      "  dusky reverse 12 --even-merged                            although rows are merged",
      "",
      "Nothing is erased from the ledger: a reversing entry is written, and the files wait to be",
      "loaded again. Reversing a load of kind mend opens its rejects again."
    })
final class ReverseCommand extends DuskyCommand {

  @Parameters(paramLabel = "LOAD|FILE", description = "A load's number, or a file's path.")
  String what;

  @Option(
      names = "--feed",
      paramLabel = "FEED",
      description = "The feed, if the file belongs to several.")
  String feed;

  @Option(names = "--reason", paramLabel = "TEXT", description = "Why; kept in the ledger.")
  String reason = "";

  @Option(
      names = "--even-merged",
      description = "Go on although rows are merged already; lists what the targets hold of them.")
  boolean evenMerged;

  private final List<Merged> merged = new ArrayList<>();

  private JdbcReversals reversals(Workspace workspace) {
    JdbcReversals reversals = workspace.warehouse().reversals();
    return evenMerged ? reversals.evenMerged(merged::add) : reversals;
  }

  @Override
  int run(Screen screen) {
    try (Workspace workspace = new Workspace(configFile())) {
      workspace.closeInterrupted();
      String why = "reversed" + (reason.isBlank() ? "" : ": " + reason.strip());
      Reversed reversed =
          what.matches("\\d{1,18}")
              ? load(workspace, Long.parseLong(what), why)
              : file(workspace, why);
      if (reversed.files().isEmpty()) {
        throw Failure.usage("Nothing of %s is posted".formatted(what))
            .next("See what is with 'dusky files' and 'dusky journal'");
      }
      Map<String, Object> fields = new LinkedHashMap<>();
      fields.put("event", "reversed");
      fields.put("load", reversed.loadId());
      fields.put("rows", reversed.rows());
      fields.put("files", reversed.files());
      fields.put(
          "merged",
          merged.stream()
              .map(m -> Map.of("merge", m.merge(), "into", m.into(), "rows", m.rows()))
              .toList());
      screen.object(fields);
      merged.forEach(
          m ->
              screen.line(
                  screen
                      .style()
                      .notable(
                          "%s holds what merge %d (%s) made of %s of them; load and merge again to correct it"
                              .formatted(
                                  m.into(),
                                  m.mergeId(),
                                  m.merge(),
                                  Figures.plural(m.rows(), "row")))));
      reversed
          .files()
          .forEach(path -> screen.line("  " + screen.style().state("reversed") + "  " + path));
      screen.line(
          "%s taken out, %s to be loaded again; entered as load %d"
              .formatted(
                  Figures.plural(reversed.rows(), "row"),
                  reversed.files().size() == 1
                      ? "1 file waits"
                      : reversed.files().size() + " files wait",
                  reversed.loadId()));
    }
    return 0;
  }

  private Reversed load(Workspace workspace, long id, String why) {
    JdbcWarehouse warehouse = workspace.warehouse();
    LoadHead head =
        warehouse
            .reversals()
            .load(id)
            .orElseThrow(
                () ->
                    Failure.usage("There is no load " + id)
                        .next("See the loads with 'dusky journal'"));
    if (head.kind().equals("reverse")) {
      throw Failure.usage("Load %d is itself a reversal".formatted(id))
          .next("Its files wait: load them again with 'dusky load " + head.feed() + "'");
    }
    Feed feed = workspace.configuration().feed(head.feed());
    return reversals(workspace)
        .load(workspace.start(feed), feed.into(), id, head.kind().equals("mend"), why);
  }

  private Reversed file(Workspace workspace, String why) {
    List<Feed> feeds =
        feed != null
            ? List.of(workspace.configuration().feed(feed))
            : workspace.configuration().feeds().values().stream()
                .filter(f -> f.files().matches(what))
                .toList();
    if (feeds.size() > 1) {
      throw Failure.usage(what + " belongs to several feeds")
          .next(
              "Say which with --feed: "
                  + String.join(", ", feeds.stream().map(Feed::name).toList()));
    }
    return feeds.stream()
        .map(f -> reversals(workspace).file(workspace.start(f), f.into(), what, why))
        .findFirst()
        .orElseThrow(
            () ->
                Failure.usage("No feed has files like " + what)
                    .next("Give the path as 'dusky files' shows it"));
  }
}
