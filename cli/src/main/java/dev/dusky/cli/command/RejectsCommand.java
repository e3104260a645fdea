package dev.dusky.cli.command;

import dev.dusky.cli.render.Figures;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.Style;
import dev.dusky.cli.render.TableText;
import dev.dusky.core.failure.Failure;
import dev.dusky.warehouses.Books;
import dev.dusky.warehouses.Books.RejectGroup;
import dev.dusky.warehouses.Books.RejectLine;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Summarises and lists rejects. */
@Command(
    name = "rejects",
    description = "Summarises the open rejects by column and reason, then lists them.",
    footer = {
      "",
      "Examples:",
      "  dusky rejects                          all feeds",
      "  dusky rejects collections --list 100   one feed, with its first 100 rejects",
      "  dusky rejects --json --list 1000000    everything, for a program"
    })
final class RejectsCommand extends DuskyCommand {

  @Parameters(arity = "0..1", paramLabel = "FEED", description = "The feed; all if not given.")
  String feed;

  @Option(
      names = "--list",
      paramLabel = "N",
      description = "List so many problems one by one; 10 if not given, 0 for the summary alone.")
  int most = 10;

  @Override
  int run(Screen screen) {
    if (most < 0) {
      throw Failure.usage("--list must not be negative");
    }
    try (Workspace workspace = new Workspace(configFile())) {
      if (feed != null) {
        workspace.configuration().feed(feed);
      }
      Books books = workspace.warehouse().books();
      List<RejectGroup> groups = books.rejectGroups(Optional.ofNullable(feed));
      if (groups.isEmpty()) {
        screen.line("no open rejects");
        return 0;
      }
      summarise(screen, groups);
      if (most > 0) {
        list(screen, books.rejects(Optional.ofNullable(feed), most), groups);
      }
    }
    return 0;
  }

  private static void summarise(Screen screen, List<RejectGroup> groups) {
    Style style = screen.style();
    TableText table =
        new TableText(
            style,
            "feed",
            "column",
            "reason",
            ">count",
            ">share",
            ">files",
            "first place",
            "examples");
    table.painted(2, style::notable);
    for (RejectGroup group : groups) {
      String examples =
          group.examples().stream()
              .filter(e -> !e.isEmpty())
              .map(e -> "'" + e + "'")
              .collect(Collectors.joining(", "));
      table.row(
          group.feed(),
          group.column().isEmpty() ? "(record)" : group.column(),
          group.code(),
          Figures.count(group.count()),
          Figures.share(group.count(), group.rowsRead()),
          Figures.count(group.files()),
          group.firstPath() + group.firstPlace(),
          examples.isEmpty() ? group.message() : examples);
      screen.object(json(group));
    }
    screen.table(table);
    long problems = groups.stream().mapToLong(RejectGroup::count).sum();
    screen.line(
        style.faint(
            "%s open %s; share is of the rows read in the files concerned"
                .formatted(Figures.count(problems), problems == 1 ? "problem" : "problems")));
  }

  private static Map<String, Object> json(RejectGroup group) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", "group");
    fields.put("feed", group.feed());
    fields.put("column", group.column());
    fields.put("code", group.code());
    fields.put("count", group.count());
    fields.put("files", group.files());
    fields.put("rows_read", group.rowsRead());
    fields.put("first_path", group.firstPath());
    fields.put("first_line", group.firstLine());
    fields.put("examples", group.examples());
    return fields;
  }

  private static void list(Screen screen, List<RejectLine> lines, List<RejectGroup> groups) {
    Style style = screen.style();
    screen.line("");
    String place = "";
    for (RejectLine line : lines) {
      String here = line.path() + line.place();
      if (!here.equals(place)) {
        screen.line(
            style.strong(here)
                + style.faint(
                    "  record %d, byte %d, reject %d"
                        .formatted(line.recordNumber(), line.byteOffset(), line.rejectId())));
        screen.line("    " + shown(line.raw(), screen.terminal().width() - 4));
        place = here;
      }
      screen.line(
          "    "
              + style.notable(line.code())
              + (line.column().isEmpty() ? "" : " in " + line.column())
              + ": "
              + TableText.visible(line.message()));
      screen.object(json(line));
    }
    long all = groups.stream().mapToLong(RejectGroup::count).sum();
    if (all > lines.size()) {
      screen.line(
          style.faint("%s more; --list N shows more".formatted(Figures.count(all - lines.size()))));
    }
  }

  private static String shown(byte[] raw, int width) {
    String text = TableText.visible(new String(raw, StandardCharsets.UTF_8));
    return text.length() <= width ? text : text.substring(0, Math.max(8, width - 1)) + "\u2026";
  }

  private static Map<String, Object> json(RejectLine line) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", "reject");
    fields.put("reject", line.rejectId());
    fields.put("feed", line.feed());
    fields.put("path", line.path());
    fields.put("record", line.recordNumber());
    fields.put("line", line.line());
    fields.put("byte", line.byteOffset());
    fields.put("state", line.state());
    fields.put("code", line.code());
    fields.put("column", line.column());
    fields.put("value", line.value());
    fields.put("message", line.message());
    fields.put("raw_base64", java.util.Base64.getEncoder().encodeToString(line.raw()));
    return fields;
  }
}
