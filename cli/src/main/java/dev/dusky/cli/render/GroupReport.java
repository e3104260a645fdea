package dev.dusky.cli.render;

import dev.dusky.app.config.Configuration;
import dev.dusky.app.config.FeedText;
import dev.dusky.app.figures.Figures;
import dev.dusky.core.advice.Advice;
import dev.dusky.core.advice.ProblemGroup;
import dev.dusky.core.advice.Remedy;
import dev.dusky.core.advice.ValueFacts;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.table.TableRule;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/** Shows problems group by group: how many, where, which values, since when, and the remedies. */
public final class GroupReport {

  private static final int EXAMPLES = 3;
  private static final String INDENT = "    ";

  private final Screen screen;
  private final Style style;
  private final Configuration configuration;

  /** A report on that screen. */
  public GroupReport(Screen screen, Configuration configuration) {
    this.screen = screen;
    this.style = screen.style();
    this.configuration = configuration;
  }

  /**
   * Shows a group.
   *
   * @param rowsRead the rows of the files concerned, or 0 if that is not known
   * @param since since when there are such problems, or an empty text
   * @param rules the rules of the landing table
   */
  public void show(
      ProblemGroup group, long rowsRead, String since, List<TableRule> rules, Optional<Feed> feed) {
    List<Remedy> remedies = feed.map(f -> Advice.of(f, group, rules)).orElse(List.of());
    screen.object(json(group, rowsRead, since, remedies));
    String count =
        "%s %s in %s%s"
            .formatted(
                Figures.count(group.count()),
                group.count() == 1 ? "problem" : "problems",
                Figures.plural(group.paths().size(), "file"),
                rowsRead == 0
                    ? ""
                    : ", %s of the rows read there"
                        .formatted(Figures.share(group.count(), rowsRead)));
    screen.line("");
    screen.line(
        style.strong(group.feed() + "  " + (group.column().isEmpty() ? "(record)" : group.column()))
            + "  "
            + style.notable(group.code().label())
            + "  "
            + count
            + (since.isEmpty() ? "" : style.faint("  " + since)));
    screen.line(INDENT + TableText.visible(group.message()));
    screen.line(
        INDENT
            + style.faint("first ")
            + group.first().where()
            + (group.count() > 1 ? style.faint("   last ") + group.last().where() : ""));
    values(group.values());
    remedies.forEach(remedy -> remedy(group, remedy));
  }

  /** Shows the remedies of a group alone. */
  public void remedies(ProblemGroup group, List<TableRule> rules, Feed feed) {
    Advice.of(feed, group, rules).forEach(remedy -> remedy(group, remedy));
  }

  private void values(ValueFacts values) {
    if (values.values().isEmpty()) {
      return;
    }
    StringBuilder line = new StringBuilder(INDENT + style.faint("values "));
    line.append(
        values.examples(EXAMPLES).stream()
            .map(GroupReport::shown)
            .collect(Collectors.joining(", ")));
    int more = values.values().size() - EXAMPLES;
    if (more > 0) {
      line.append(
          style.faint(
              " and %s more%s".formatted(Figures.count(more), values.more() ? " at least" : "")));
    }
    if (values.values().size() > 1) {
      line.append(style.faint("   longest ")).append(shown(values.longest()));
      line.append(style.faint("   from ")).append(shown(values.smallest().orElse("")));
      line.append(style.faint(" to ")).append(shown(values.largest().orElse("")));
    }
    screen.line(line.toString());
  }

  private static String shown(String value) {
    String text = TableText.visible(value);
    return "'" + (text.length() > 40 ? text.substring(0, 39) + "\u2026" : text) + "'";
  }

  private void remedy(ProblemGroup group, Remedy remedy) {
    screen.line(INDENT + style.good("-> ") + TableText.visible(remedy.text()));
    remedy.column().ifPresent(column -> code(changed(group.feed(), column)));
    remedy.layoutKey().ifPresent(key -> code(layout(group.feed()) + "  " + key));
    remedy.statements().forEach(statement -> code(statement + ";"));
  }

  private void code(String text) {
    screen.line(INDENT + "     " + text);
  }

  private String layout(String feed) {
    return "%s, layout of %s".formatted(configuration.file().getFileName(), feed);
  }

  private String changed(String feed, FeedColumn column) {
    return "%s%s  %s: %s"
        .formatted(
            configuration.file().getFileName(),
            configuration.columnLine(feed, column.name()).map(line -> ":" + line).orElse(""),
            column.name(),
            FeedText.column(column));
  }

  private Map<String, Object> json(
      ProblemGroup group, long rowsRead, String since, List<Remedy> remedies) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", "group");
    fields.put("feed", group.feed());
    fields.put("column", group.column());
    fields.put("code", group.code().label());
    fields.put("count", group.count());
    fields.put("files", group.paths().size());
    fields.put("rows_read", rowsRead);
    fields.put("since", since);
    fields.put("first_path", group.first().path());
    fields.put("first_record", group.first().recordNumber());
    fields.put("first_line", group.first().line());
    fields.put("last_path", group.last().path());
    fields.put("last_record", group.last().recordNumber());
    fields.put("message", group.message());
    fields.put("examples", group.values().examples(EXAMPLES));
    fields.put("longest", group.values().longest());
    fields.put("smallest", group.values().smallest().orElse(null));
    fields.put("largest", group.values().largest().orElse(null));
    List<Map<String, Object>> advice = new ArrayList<>();
    for (Remedy remedy : remedies) {
      Map<String, Object> one = new LinkedHashMap<>();
      one.put("text", remedy.text());
      one.put("sql", remedy.statements());
      one.put(
          "column", remedy.column().map(c -> c.name() + ": " + FeedText.column(c)).orElse(null));
      one.put("layout", remedy.layoutKey().orElse(null));
      advice.add(one);
    }
    fields.put("remedies", advice);
    return fields;
  }
}
