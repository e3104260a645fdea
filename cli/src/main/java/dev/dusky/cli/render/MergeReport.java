package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.figures.TallyFigures;
import dev.dusky.app.merge.RunMerges;
import dev.dusky.cli.process.Launcher;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeChange;
import dev.dusky.core.merge.MergeResult;
import dev.dusky.core.merge.MergeResult.Rejected;
import dev.dusky.core.merge.MergeStep;
import dev.dusky.core.merge.MergeTally;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Collectors;

/** Shows what merges did, or would do. */
public final class MergeReport implements RunMerges.Listener {

  private final Screen screen;
  private final Style style;
  private final boolean rehearsal;
  private final Set<String> advice = new LinkedHashSet<>();
  private final Set<String> spare = new LinkedHashSet<>();

  /** A report on that screen, of merges that are done or only rehearsed. */
  public MergeReport(Screen screen, boolean rehearsal) {
    this.screen = screen;
    this.style = screen.style();
    this.rehearsal = rehearsal;
  }

  @Override
  public void waiting(String table) {
    screen.line(style.notable("waiting for another merge into " + table));
    screen.object(Map.of("event", "waiting", "into", table));
  }

  @Override
  public void merged(Merge merge, List<MergeResult> results) {
    boolean idle = results.stream().allMatch(r -> r.tally().landed() == 0);
    if (idle) {
      screen.line(
          "%s  nothing to merge; all landed rows are in %s"
              .formatted(style.strong(merge.name()), merge.into()));
      if (results.isEmpty()) {
        screen.object(
            Map.of("event", "merge", "merge", merge.name(), "landed", 0, "balanced", true));
      }
    }
    for (MergeResult result : results) {
      json(result);
      if (result.tally().landed() > 0) {
        show(merge, result);
      }
      advice.addAll(result.advice());
      spare.addAll(result.spare());
    }
  }

  @Override
  public void failed(Merge merge, Failure failure) {
    screen.line(
        style.strong(merge.name())
            + "  "
            + style.bad("failed")
            + "  "
            + failure.message(Launcher::words));
    screen.object(
        Map.of(
            "event", "failed", "merge", merge.name(), "message", failure.message(Launcher::words)));
  }

  @Override
  public void skipped(Merge merge, String awaited) {
    screen.line(
        "%s  %s  it needs merge %s, which failed"
            .formatted(style.strong(merge.name()), style.notable("skipped"), awaited));
    screen.object(Map.of("event", "skipped", "merge", merge.name(), "needs", awaited));
  }

  private void show(Merge merge, MergeResult result) {
    MergeTally tally = result.tally();
    String verdict = tally.balanced() ? style.good("balanced") : style.bad("NOT BALANCED");
    screen.line(
        "%s  %s   %s   %s"
            .formatted(
                style.strong(result.merge()),
                TallyFigures.sum(tally),
                verdict,
                Figures.duration(result.elapsed())));
    String which = rehearsal ? "would be" : "merge " + result.mergeId();
    screen.line(
        style.faint(
            "%s: %s into %s (%s)%s%s"
                .formatted(
                    which,
                    result.what().isEmpty() ? merge.source() : result.what(),
                    result.into(),
                    merge.existing(),
                    tally.missing() > 0
                        ? ", %s removed that the snapshot lacks"
                            .formatted(Figures.count(tally.missing()))
                        : "",
                    tally.idle() ? ", which stays as it was" : "")));
    for (Rejected rejected : result.rejects()) {
      screen.line(
          "  %s  %s  %s%s  %s"
              .formatted(
                  style.bad("rejected"),
                  Figures.count(rejected.rows()),
                  rejected.code(),
                  rejected.column().isEmpty() ? "" : " " + rejected.column(),
                  style.faint("for example " + String.join("; ", rejected.keys()))));
      screen.line("            " + wayOut(rejected.code(), result.merge()));
    }
    if (rehearsal) {
      changes(merge, result);
    }
  }

  /** The remedy for rejects of a kind. */
  public static String wayOut(String code, String merge) {
    return switch (code) {
      case "unknown-key" ->
          "merge the dimension first, then 'dusky merge %s --retry'".formatted(merge);
      case "ambiguous" -> "different rows with equal latest-by values: add a column to latest-by";
      case "null-key", "null-time" -> "correct the source, or fill it under columns";
      default -> "the target has this key more than once: see 'dusky balance', correct it, --retry";
    };
  }

  private void changes(Merge merge, MergeResult result) {
    for (MergeChange change : result.changes()) {
      if (change.before().isEmpty()) {
        screen.line("  " + style.good("new    ") + "  " + clipped(row(merge, change.after())));
      } else if (change.after().isEmpty()) {
        screen.line("  " + style.bad("gone   ") + "  " + clipped(row(merge, change.before())));
      } else {
        screen.line("  " + style.notable("changed") + "  " + key(merge, change.before()));
        differences(change);
      }
    }
    long hidden = result.allChanges() - result.changes().size();
    if (hidden > 0) {
      screen.line(
          style.faint(
              "  and %s more; --changes N shows more, --json all"
                  .formatted(Figures.plural(hidden, "change"))));
    }
  }

  private void differences(MergeChange change) {
    List<String> names =
        change.before().keySet().stream()
            .filter(n -> !Objects.equals(change.before().get(n), change.after().get(n)))
            .toList();
    int width = names.stream().mapToInt(String::length).max().orElse(0);
    for (String name : names) {
      screen.line(
          "             %s%s  %s %s %s"
              .formatted(
                  name,
                  " ".repeat(width - name.length()),
                  style.bad(text(change.before().get(name))),
                  style.faint("->"),
                  style.good(text(change.after().get(name)))));
    }
  }

  private static String key(Merge merge, Map<String, Object> row) {
    List<String> names = new ArrayList<>(merge.key());
    merge.history().ifPresent(h -> names.add(h.from()));
    return names.stream().map(n -> n + " " + text(row.get(n))).collect(Collectors.joining(", "));
  }

  private static String row(Merge merge, Map<String, Object> row) {
    String rest =
        row.entrySet().stream()
            .filter(e -> !merge.key().contains(e.getKey()) && e.getValue() != null)
            .filter(e -> !e.getKey().startsWith("dusky_"))
            .map(e -> e.getKey() + " " + text(e.getValue()))
            .collect(Collectors.joining(", "));
    String key =
        merge.key().stream().map(n -> n + " " + text(row.get(n))).collect(Collectors.joining(", "));
    return key + (rest.isEmpty() ? "" : ", " + rest);
  }

  /** As much of it as fits on one line after the word before it. */
  private String clipped(String row) {
    int most = Math.max(40, screen.terminal().width() - 12);
    return row.length() <= most ? row : row.substring(0, most - 1) + "\u2026";
  }

  private static String text(Object value) {
    return value == null ? "null" : TableText.visible(value.toString());
  }

  private void json(MergeResult result) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", rehearsal ? "rehearsed" : "merge");
    fields.put("merge", result.merge());
    fields.put("into", result.into());
    fields.put("id", result.mergeId());
    fields.put("snapshot", result.what());
    fields.putAll(TallyFigures.fields(result.tally()));
    fields.put("changes", result.allChanges());
    fields.put(
        "rejects",
        result.rejects().stream()
            .map(
                r ->
                    Map.of(
                        "code", r.code(), "column", r.column(), "rows", r.rows(), "keys", r.keys()))
            .toList());
    fields.put("indexes", result.advice());
    fields.put("spare_columns", result.spare());
    fields.put("seconds", result.elapsed().toMillis() / 1000.0);
    screen.object(fields);
    for (MergeChange change : result.changes()) {
      Map<String, Object> one = new LinkedHashMap<>();
      one.put("event", "change");
      one.put("merge", result.merge());
      one.put("before", change.before().isEmpty() ? null : change.before());
      one.put("after", change.after().isEmpty() ? null : change.after());
      screen.object(one);
    }
  }

  /** Names columns that no target takes, and the indexes that would make merges faster. */
  public void end() {
    if (!spare.isEmpty()) {
      screen.line(style.notable("landed columns that the target lacks and no merge takes:"));
      spare.forEach(statement -> screen.line("  " + statement));
      screen.line(
          style.faint(
              "  'dusky merge NAME --fill COLUMN' adds one and fills it for existing rows"));
    }
    if (!advice.isEmpty()) {
      screen.line(style.notable("missing indexes; without them whole tables are read:"));
      advice.forEach(statement -> screen.line("  " + statement));
    }
  }

  /** Shows which columns were filled. */
  public void filled(Merge merge, List<String> columns, long rows) {
    screen.line(
        "%s  filled %s in %s of %s"
            .formatted(
                style.strong(merge.name()),
                String.join(", ", columns),
                Figures.plural(rows, "row"),
                merge.into()));
    screen.object(Map.of("event", "fill", "merge", merge.name(), "columns", columns, "rows", rows));
  }

  /** Shows the statements of a merge. */
  public void script(Merge merge, List<MergeStep> steps) {
    screen.line(style.strong("-- merge %s into %s".formatted(merge.name(), merge.into())));
    for (MergeStep step : steps) {
      screen.block(step.toString());
      Map<String, Object> fields = new LinkedHashMap<>();
      fields.put("merge", merge.name());
      fields.put("comment", step.comment());
      fields.put("sql", step.sql());
      screen.object(fields);
    }
  }
}
