package dev.dusky.cli.command;

import dev.dusky.cli.render.Figures;
import dev.dusky.cli.render.LoadReport;
import dev.dusky.cli.render.Moments;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.Style;
import dev.dusky.cli.render.TableText;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.warehouses.Books;
import dev.dusky.warehouses.Books.LoadLine;
import dev.dusky.warehouses.Books.TallyLine;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Shows the history. */
@Command(
    name = "journal",
    description = "Shows what was loaded, when, how long, by whom, with what outcome.",
    footer = {
      "",
      "Examples:",
      "  dusky journal                   the newest 20 loads",
      "  dusky journal collections       one feed's loads",
      "  dusky journal --load 3          each file of load 3"
    })
final class JournalCommand extends DuskyCommand {

  @Parameters(arity = "0..1", paramLabel = "FEED", description = "The feed; all if not given.")
  String feed;

  @Option(names = "--load", paramLabel = "ID", description = "Show the files of this load.")
  Long load;

  @Option(
      names = {"-n", "--loads"},
      paramLabel = "N",
      description = "How many loads; 20 if not given.")
  int most = 20;

  @Override
  int run(Screen screen) {
    if (most < 1) {
      throw Failure.usage("--loads must be 1 or more");
    }
    try (Workspace workspace = new Workspace(configFile())) {
      if (feed != null) {
        workspace.configuration().feed(feed);
      }
      workspace.closeInterrupted();
      Books books = workspace.warehouse().books();
      if (load != null) {
        files(screen, books.files(load));
      } else {
        loads(screen, books.loads(Optional.ofNullable(feed), most));
      }
    }
    return 0;
  }

  private static void loads(Screen screen, List<LoadLine> loads) {
    if (loads.isEmpty()) {
      screen.line("no loads yet");
      return;
    }
    Style style = screen.style();
    TableText table =
        new TableText(
            style,
            ">load",
            "=started (UTC)",
            "feed",
            "=what",
            "=state",
            ">read",
            ">loaded",
            ">duplicate",
            ">rejected",
            ">filtered",
            ">time",
            ">rows/s",
            "by",
            "files");
    table.painted(4, style::state);
    for (LoadLine line : loads) {
      Optional<Duration> time = line.ended().map(end -> Duration.between(line.started(), end));
      table.row(
          Long.toString(line.loadId()),
          Moments.minute(line.started()),
          line.feed(),
          line.kind(),
          line.state(),
          Figures.count(line.tally().read()),
          Figures.count(line.tally().loaded()),
          Figures.count(line.tally().duplicate()),
          Figures.count(line.tally().rejected()),
          Figures.count(line.tally().filtered()),
          time.map(Figures::duration).orElse("-"),
          time.filter(t -> line.tally().read() >= 0)
              .map(t -> Figures.perSecond(line.tally().read(), t))
              .orElse("-"),
          line.by(),
          files(line));
      screen.object(json(line));
    }
    screen.table(table);
    for (LoadLine line : loads) {
      if (!line.message().isEmpty() && !line.state().equals(LoadState.DONE.label())) {
        screen.line("load %d %s: %s".formatted(line.loadId(), line.state(), line.message()));
      }
    }
  }

  private static String files(LoadLine line) {
    List<String> parts = new ArrayList<>();
    add(parts, line.posted(), "posted");
    add(parts, line.twins(), line.twins() == 1 ? "twin" : "twins");
    add(parts, line.refused(), "refused");
    add(parts, line.revised(), "revised");
    add(parts, line.mended(), "mended");
    add(parts, line.reversed(), "reversed");
    return parts.isEmpty() ? "none" : String.join(", ", parts);
  }

  private static void add(List<String> parts, long count, String word) {
    if (count > 0) {
      parts.add(Figures.count(count) + " " + word);
    }
  }

  private static Map<String, Object> json(LoadLine line) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("load", line.loadId());
    fields.put("kind", line.kind());
    fields.put("feed", line.feed());
    fields.put("into", line.into());
    fields.put("state", line.state());
    fields.put("started", line.started().toString());
    fields.put("ended", line.ended().map(Object::toString).orElse(null));
    fields.put("by", line.by());
    fields.put("posted", line.posted());
    fields.put("twins", line.twins());
    fields.put("refused", line.refused());
    fields.put("revised", line.revised());
    fields.put("mended", line.mended());
    fields.put("reversed", line.reversed());
    fields.putAll(LoadReport.tally(line.tally()));
    fields.put("stored_bytes", line.storedBytes());
    fields.put("content_bytes", line.contentBytes());
    fields.put("message", line.message());
    return fields;
  }

  private static String remark(TallyLine file) {
    boolean settled = file.rejects().mended() + file.rejects().waived() > 0;
    String rejects =
        settled
            ? "rejected %s, of which mended %s, waived %s, open %s"
                .formatted(
                    Figures.count(file.tally().rejected()),
                    Figures.count(file.rejects().mended()),
                    Figures.count(file.rejects().waived()),
                    Figures.count(file.rejects().open()))
            : "";
    return file.message() + (file.message().isEmpty() || rejects.isEmpty() ? "" : "; ") + rejects;
  }

  private void files(Screen screen, List<TallyLine> files) {
    if (files.isEmpty()) {
      throw Failure.usage("There is no load " + load + " with files")
          .next("See the loads with 'dusky journal'");
    }
    Style style = screen.style();
    TableText table =
        new TableText(
            style,
            "state",
            ">read",
            ">loaded",
            ">duplicate",
            ">rejected",
            ">filtered",
            ">size",
            ">time",
            "path",
            "remark");
    table.painted(0, style::state);
    for (TallyLine file : files) {
      table.row(
          file.state(),
          Figures.count(file.tally().read()),
          Figures.count(file.tally().loaded()),
          Figures.count(file.tally().duplicate()),
          Figures.count(file.tally().rejected()),
          Figures.count(file.tally().filtered()),
          Figures.bytes(file.storedBytes()),
          Figures.duration(file.elapsed()),
          file.path(),
          remark(file));
      Map<String, Object> fields = new LinkedHashMap<>();
      fields.put("load", file.loadId());
      fields.put("path", file.path());
      fields.put("state", file.state());
      fields.putAll(LoadReport.tally(file.tally()));
      fields.put("stored_bytes", file.storedBytes());
      fields.put("seconds", file.elapsed().toMillis() / 1000.0);
      fields.put("message", file.message());
      fields.put("rejects_open", file.rejects().open());
      fields.put("rejects_mended", file.rejects().mended());
      fields.put("rejects_waived", file.rejects().waived());
      screen.object(fields);
    }
    screen.table(table);
  }
}
