package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.figures.Moments;
import dev.dusky.core.ledger.DriftLine;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Shows how files differed from their feeds, and what was done about it. */
public final class DriftReport {

  private final Screen screen;
  private final Style style;

  /** A report on that screen. */
  public DriftReport(Screen screen) {
    this.screen = screen;
    this.style = screen.style();
  }

  /** Shows the drifts file by file. */
  public void show(List<DriftLine> lines) {
    if (lines.isEmpty()) {
      screen.line("no file differed from its feed");
      return;
    }
    String file = "";
    for (DriftLine line : lines) {
      screen.object(json(line));
      String now = line.loadId() + " " + line.path();
      if (!now.equals(file)) {
        file = now;
        screen.line(
            "%s  %s  %s  %s"
                .formatted(
                    style.strong(line.feed()),
                    TableText.visible(line.path()),
                    style.state(line.fileState()),
                    style.faint("load " + line.loadId() + ", " + Moments.minute(line.at()))));
      }
      screen.line(
          "  %s  %s"
              .formatted(
                  painted(
                      "%-8s".formatted(line.action().equals("null") ? "as null" : line.action())),
                  what(line)));
      line.statement().ifPresent(sql -> screen.line(style.faint("            " + sql)));
      if (!line.remark().isEmpty()) {
        screen.line("            " + TableText.visible(line.remark()));
      }
    }
  }

  private String painted(String action) {
    return switch (action.strip()) {
      case "refused" -> style.bad(action);
      case "extended", "widened" -> style.notable(action);
      default -> style.good(action);
    };
  }

  private static String what(DriftLine line) {
    String type = line.seen().isEmpty() ? "" : " (" + line.seen() + ")";
    String field = TableText.visible(line.field());
    String what =
        switch (line.change()) {
          case "new" -> "new field " + field + type;
          case "missing" -> "field " + field + " is missing";
          default -> "values of " + field + " do not fit its type" + type;
        };
    return what
        + (line.records() == 0 ? "" : ", " + Figures.plural(line.records(), "record"))
        + (line.example().isEmpty() ? "" : ", such as '" + TableText.visible(line.example()) + "'");
  }

  private static Map<String, Object> json(DriftLine line) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("feed", line.feed());
    fields.put("load", line.loadId());
    fields.put("path", line.path());
    fields.put("file_state", line.fileState());
    fields.put("field", line.field());
    fields.put("change", line.change());
    fields.put("seen", line.seen());
    fields.put("action", line.action());
    fields.put("records", line.records());
    fields.put("example", line.example());
    fields.put("statement", line.statement().orElse(null));
    fields.put("remark", line.remark());
    return fields;
  }
}
