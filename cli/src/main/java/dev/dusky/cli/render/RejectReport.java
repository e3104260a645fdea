package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.figures.Moments;
import dev.dusky.app.reject.ReviewRejects.Group;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FirstReject;
import dev.dusky.core.mend.MarkedRecord;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.StoredReject;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Shows rejects: in groups, as a list, and one by one. */
public final class RejectReport {

  private final Screen screen;
  private final Style style;

  /** A report on that screen. */
  public RejectReport(Screen screen) {
    this.screen = screen;
    this.style = screen.style();
  }

  /** Shows groups of problems. */
  public void groups(List<Group> groups, GroupReport report) {
    groups.forEach(g -> report.show(g.group(), g.rows(), since(g.first()), g.rules(), g.feed()));
    screen.line("");
    long problems = groups.stream().mapToLong(g -> g.group().count()).sum();
    screen.line(
        style.faint(
            "%s in %s. dusky rejects show ID shows one, --list N lists them"
                .formatted(
                    Figures.plural(problems, "problem"), Figures.plural(groups.size(), "group"))));
  }

  private static String since(Optional<FirstReject> first) {
    if (first.isEmpty()) {
      return "";
    }
    long load = first.get().loadId();
    boolean today = day(first.get().at()).equals(day(Instant.now()));
    return today
        ? "new today, since load " + load
        : "since load %d of %s".formatted(load, Moments.minute(first.get().at()));
  }

  private static LocalDate day(Instant moment) {
    return moment.atZone(ZoneOffset.UTC).toLocalDate();
  }

  /** Shows rejects, each with its record and problems. */
  public void list(List<StoredReject> rejects) {
    screen.line("");
    for (StoredReject reject : rejects) {
      screen.line(
          style.strong("reject " + reject.id())
              + "  "
              + style.state(reject.state().label())
              + "  "
              + reject.where()
              + style.faint(
                  "  record %d, byte %d"
                      .formatted(reject.reject().recordNumber(), reject.reject().byteOffset())));
      screen.line("    " + shown(reject.latest(), screen.terminal().width() - 4));
      for (Problem problem : reject.reject().problems()) {
        screen.line(
            "    "
                + style.notable(problem.code().label())
                + (problem.column().isEmpty() ? "" : " in " + problem.column())
                + ": "
                + TableText.visible(problem.message()));
      }
      objects(reject);
    }
  }

  private static String shown(byte[] raw, int width) {
    String text = TableText.visible(new String(raw, StandardCharsets.UTF_8));
    return text.length() <= width ? text : text.substring(0, Math.max(8, width - 1)) + "\u2026";
  }

  /** Shows one reject as it is in its file. */
  public void one(StoredReject reject, Optional<Feed> feed) {
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
    reject.settledAt().ifPresent(at -> settled(reject, at));
    if (reject.tried().isPresent()) {
      screen.line("  this is the last repaired version; it is still wrong");
    }
    screen.line("");
    feed.ifPresent(
        f ->
            new RecordView(style, screen.terminal().width())
                .lines(MarkedRecord.of(f, reject), reject.reject().line())
                .forEach(screen::line));
    screen.line("");
    objects(reject);
  }

  private void settled(StoredReject reject, Instant at) {
    screen.line(
        "  %s by %s at %s%s"
            .formatted(
                reject.state().label(),
                reject.settledBy().orElse(""),
                Moments.minute(at),
                reject.reason().map(r -> ": " + r).orElse("")));
  }

  private void objects(StoredReject reject) {
    reject.reject().problems().forEach(problem -> screen.object(json(reject, problem)));
  }

  private static Map<String, Object> json(StoredReject reject, Problem problem) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", "reject");
    fields.put("reject", reject.id());
    fields.put("feed", reject.feed());
    fields.put("path", reject.file().path());
    fields.put("load", reject.loadId());
    fields.put("record", reject.reject().recordNumber());
    fields.put("line", reject.reject().line());
    fields.put("byte", reject.reject().byteOffset());
    fields.put("state", reject.state().label());
    fields.put("code", problem.code().label());
    fields.put("column", problem.column());
    fields.put("value", problem.value());
    fields.put("message", problem.message());
    fields.put("raw_base64", Base64.getEncoder().encodeToString(reject.reject().raw()));
    reject.settledBy().ifPresent(by -> fields.put("settled_by", by));
    reject.settledAt().ifPresent(at -> fields.put("settled_at", at.toString()));
    reject.reason().ifPresent(reason -> fields.put("reason", reason));
    return fields;
  }
}
