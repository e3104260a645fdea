package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.core.draft.Evidence;
import dev.dusky.core.draft.FeedDraft;
import dev.dusky.core.draft.PathStatistics;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;

/** A draft for people: what was decided and why, the columns, and for nested data every path. */
final class DraftReport {

  private static final int EXAMPLES = 3;

  private final Screen screen;
  private final Style style;

  /** A report on a screen. */
  public DraftReport(Screen screen) {
    this.screen = screen;
    this.style = screen.style();
  }

  /** Shows a draft that was made from sampled files. */
  public void show(FeedDraft draft, int files) {
    screen.line(
        style.strong("feed " + draft.feed().name())
            + style.faint(
                "  %s like %s".formatted(Figures.plural(files, "file"), draft.feed().files())));
    evidence(draft);
    draft.paths().ifPresent(this::paths);
    columns(draft);
    remarks(draft);
    object(draft);
  }

  /** Gives a draft to machines. */
  public void object(FeedDraft draft) {
    screen.object(json(draft));
  }

  /** Shows several drafts, a line each, with what a person should look at. */
  public void brief(List<FeedDraft> drafts) {
    TableText table =
        new TableText(
            style, "=feed", "=files", "=kind", ">columns", ">sampled", ">rejects", "look at");
    for (FeedDraft draft : drafts) {
      String doubts =
          draft.evidence().stream()
              .filter(Evidence::doubtful)
              .map(e -> e.about().replace("column ", ""))
              .collect(Collectors.joining(", "));
      table.row(
          draft.feed().name(),
          draft.feed().files().toString(),
          draft.feed().layout().kind(),
          Integer.toString(draft.feed().columns().size()),
          Figures.count(draft.read()),
          Figures.count(draft.rejected()),
          doubts);
    }
    table.painted(6, style::notable);
    screen.table(table);
    screen.line(style.faint("the evidence for each: name its folder alone, or add --evidence"));
  }

  private void evidence(FeedDraft draft) {
    TableText table = new TableText(style, "=decision", "=", "because");
    for (Evidence evidence : draft.evidence()) {
      if (!evidence.about().startsWith("column ")) {
        table.row(
            (evidence.doubtful() ? "? " : "  ") + evidence.about(),
            evidence.decision(),
            evidence.because());
      }
    }
    table.painted(0, text -> text.startsWith("?") ? style.notable(text) : text);
    screen.table(table);
  }

  private void paths(PathStatistics paths) {
    screen.line("");
    TableText table =
        new TableText(style, "=path", "=types", ">share", ">longest", "=range", "examples");
    for (PathStatistics.Path path : paths.paths()) {
      String range =
          path.least() == null
              ? ""
              : path.least().toPlainString() + " to " + path.greatest().toPlainString();
      table.row(
          path.text(),
          path.kinds().keySet().stream()
              .map(k -> k.name().toLowerCase(Locale.ROOT))
              .collect(Collectors.joining(", ")),
          Figures.share(path.records(), paths.records()),
          path.longest() == 0 ? "" : Integer.toString(path.longest()),
          range,
          examples(path.values()));
    }
    screen.table(table);
  }

  private static String examples(List<String> values) {
    return values.stream().distinct().limit(EXAMPLES).collect(Collectors.joining(", "));
  }

  private void columns(FeedDraft draft) {
    screen.line("");
    TableText table = new TableText(style, "=column", "=type", "=from", "seen");
    for (FeedColumn column : draft.feed().columns()) {
      boolean doubtful =
          draft.evidence().stream()
              .anyMatch(e -> e.doubtful() && e.about().equals("column " + column.name()));
      String key = draft.keys().contains(column.name()) ? "; every value is different" : "";
      table.row(
          (doubtful ? "? " : "  ") + column.name(),
          type(column),
          from(column),
          draft.columns().getOrDefault(column.name(), "") + key);
    }
    table.painted(0, text -> text.startsWith("?") ? style.notable(text) : text);
    screen.table(table);
  }

  private static String type(FeedColumn column) {
    List<String> parts = new ArrayList<>(List.of(column.type().toString()));
    if (column.notNull()) {
      parts.add("not null");
    }
    column.pattern().ifPresent(parts::add);
    if (column.marks().decimal() != '.') {
      parts.add("with '" + column.marks().decimal() + "'");
    }
    return String.join(" ", parts);
  }

  private static String from(FeedColumn column) {
    return column.from() instanceof FieldSource.Next ? "" : column.from().toString();
  }

  private void remarks(FeedDraft draft) {
    screen.line(
        style.faint(
            "  read with this draft, the sample gives %s rows and %s"
                .formatted(
                    Figures.count(draft.read() - draft.rejected()),
                    Figures.plural(draft.rejected(), "reject"))));
  }

  private static Map<String, Object> json(FeedDraft draft) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", "draft");
    fields.put("feed", draft.feed().name());
    fields.put("files", draft.feed().files().toString());
    fields.put("layout", draft.feed().layout().kind());
    fields.put("into", draft.feed().into().toString());
    List<Map<String, Object>> columns = new ArrayList<>();
    for (FeedColumn column : draft.feed().columns()) {
      Map<String, Object> one = new LinkedHashMap<>();
      one.put("name", column.name());
      one.put("type", column.type().toString());
      one.put("not_null", column.notNull());
      column.pattern().ifPresent(pattern -> one.put("pattern", pattern));
      one.put("from", from(column));
      one.put("because", draft.columns().getOrDefault(column.name(), ""));
      columns.add(one);
    }
    fields.put("columns", columns);
    fields.put("keys", draft.keys());
    fields.put(
        "evidence",
        draft.evidence().stream()
            .map(
                e ->
                    Map.of(
                        "about", e.about(),
                        "decision", e.decision(),
                        "because", e.because(),
                        "doubtful", e.doubtful()))
            .toList());
    draft
        .paths()
        .ifPresent(
            paths ->
                fields.put(
                    "paths",
                    paths.paths().stream()
                        .map(
                            p ->
                                Map.of(
                                    "path", p.text(),
                                    "types", p.kinds(),
                                    "records", p.records(),
                                    "longest", p.longest(),
                                    "examples",
                                        p.values().stream().distinct().limit(EXAMPLES).toList()))
                        .toList()));
    fields.put("read", draft.read());
    fields.put("rejected", draft.rejected());
    return fields;
  }
}
