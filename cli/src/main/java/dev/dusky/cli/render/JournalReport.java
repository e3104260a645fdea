package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.figures.Moments;
import dev.dusky.app.figures.TallyFigures;
import dev.dusky.app.journal.ReadJournal.Entries;
import dev.dusky.app.journal.ReadJournal.OneMerge;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadLine;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.ledger.MergeLine;
import dev.dusky.core.ledger.MergeRejectLine;
import dev.dusky.core.ledger.TallyLine;
import dev.dusky.core.merge.MergeTally;
import dev.dusky.core.tally.Tally;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Shows loads and merges as one history. */
public final class JournalReport {

  /** The kinds of loads of which the message says more than the figures. */
  private static final Set<String> TOLD =
      Set.of(
          LoadKind.PROMOTE.label(),
          LoadKind.REPLACE.label(),
          LoadKind.RESTORE.label(),
          LoadKind.TIDY.label());

  private final Screen screen;
  private final Style style;

  /** A report on that screen. */
  public JournalReport(Screen screen) {
    this.screen = screen;
    this.style = screen.style();
  }

  /** One line of the history. */
  private record Entry(
      Instant started, List<String> cells, Map<String, Object> json, String note) {}

  /** Shows the newest entries, newest first. */
  public void entries(Entries newest, int most) {
    List<Entry> entries = new ArrayList<>();
    newest.loads().forEach(line -> entries.add(entry(line)));
    newest.merges().forEach(line -> entries.add(entry(line)));
    if (entries.isEmpty()) {
      screen.line("no entries");
      return;
    }
    entries.sort(Comparator.comparing(Entry::started).reversed());
    TableText table =
        new TableText(
            style,
            "=entry",
            "=started (UTC)",
            "name",
            "=what",
            "=state",
            ">rows",
            "account",
            ">time",
            ">rows/s",
            "by",
            "files");
    table.painted(4, style::state);
    List<Entry> shown = entries.stream().limit(most).toList();
    for (Entry entry : shown) {
      table.row(entry.cells().toArray(String[]::new));
      screen.object(entry.json());
    }
    screen.table(table);
    shown.stream().map(Entry::note).filter(note -> !note.isEmpty()).forEach(screen::line);
  }

  private Entry entry(LoadLine line) {
    Optional<Duration> time = line.ended().map(end -> Duration.between(line.started(), end));
    String id = "load " + line.loadId();
    List<String> cells =
        List.of(
            id,
            Moments.minute(line.started()),
            line.feed().isEmpty() ? line.into() : line.feed(),
            line.kind(),
            line.state(),
            Figures.count(line.tally().read()),
            account(line.tally()),
            time.map(Figures::duration).orElse("-"),
            time.filter(t -> line.tally().read() > 0)
                .map(t -> Figures.perSecond(line.tally().read(), t))
                .orElse("-"),
            line.by(),
            files(line));
    String note =
        TOLD.contains(line.kind())
            ? id + ": " + line.message()
            : note(id, line.state(), line.message());
    return new Entry(line.started(), cells, json(line), note);
  }

  private Entry entry(MergeLine line) {
    Optional<Duration> time = line.ended().map(end -> Duration.between(line.started(), end));
    String id = "merge " + line.mergeId();
    List<String> cells =
        List.of(
            id,
            Moments.minute(line.started()),
            line.merge(),
            line.retry() ? "retry" : "merge",
            line.state(),
            Figures.count(line.tally().landed()),
            account(line.tally()),
            time.map(Figures::duration).orElse("-"),
            time.filter(t -> line.tally().landed() > 0)
                .map(t -> Figures.perSecond(line.tally().landed(), t))
                .orElse("-"),
            line.by(),
            line.files() == 0 ? "none" : Figures.count(line.files()) + " merged");
    return new Entry(line.started(), cells, json(line), note(id, line.state(), line.message()));
  }

  private static String note(String id, String state, String message) {
    return message.isEmpty() || state.equals(LoadState.DONE.label())
        ? ""
        : "%s %s: %s".formatted(id, state, message);
  }

  private static String account(Tally tally) {
    List<String> parts = new ArrayList<>();
    add(parts, tally.loaded(), "loaded");
    add(parts, tally.duplicate(), "duplicate");
    add(parts, tally.rejected(), "rejected");
    add(parts, tally.filtered(), "filtered");
    return parts.isEmpty() ? "nothing" : String.join(", ", parts);
  }

  private static String account(MergeTally tally) {
    List<String> parts = new ArrayList<>();
    add(parts, tally.inserted(), "inserted");
    add(parts, tally.updated(), "updated");
    add(parts, tally.unchanged(), "unchanged");
    add(parts, tally.superseded(), "superseded");
    add(parts, tally.deleted(), "deleted");
    add(parts, tally.rejected(), "rejected");
    add(parts, tally.missing(), "missing");
    return parts.isEmpty() ? "nothing" : String.join(", ", parts);
  }

  private static String files(LoadLine line) {
    List<String> parts = new ArrayList<>();
    add(parts, line.posted(), "posted");
    add(parts, line.twins(), line.twins() == 1 ? "twin" : "twins");
    add(parts, line.refused(), "refused");
    add(parts, line.revised(), "revised");
    add(parts, line.mended(), "mended");
    add(
        parts,
        line.reversed(),
        line.kind().equals(LoadKind.REPLACE.label())
            ? "replaced"
            : line.kind().equals(LoadKind.RESTORE.label()) ? "restored" : "reversed");
    return parts.isEmpty() ? "none" : String.join(", ", parts);
  }

  private static void add(List<String> parts, long count, String word) {
    if (count != 0) {
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
    fields.putAll(TallyFigures.fields(line.tally()));
    fields.put("stored_bytes", line.storedBytes());
    fields.put("content_bytes", line.contentBytes());
    fields.put("message", line.message());
    return fields;
  }

  private static Map<String, Object> json(MergeLine line) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("merge_run", line.mergeId());
    fields.put("kind", "merge");
    fields.put("merge", line.merge());
    fields.put("from", line.source());
    fields.put("into", line.into());
    fields.put("existing", line.existing());
    fields.put("retry", line.retry());
    fields.put("state", line.state());
    fields.put("started", line.started().toString());
    fields.put("ended", line.ended().map(Object::toString).orElse(null));
    fields.put("by", line.by());
    fields.put("files", line.files());
    fields.putAll(TallyFigures.fields(line.tally()));
    fields.put("message", line.message());
    return fields;
  }

  /** Shows one run of a merge: its account, the files it took, its rejects. */
  public void merge(OneMerge merge) {
    MergeLine line = merge.line();
    List<TallyLine> files = merge.files();
    List<MergeRejectLine> rejects = merge.rejects();
    Map<String, Object> fields = json(line);
    fields.put(
        "paths", files.stream().map(f -> Map.of("load", f.loadId(), "path", f.path())).toList());
    fields.put(
        "rejects",
        rejects.stream()
            .map(
                r ->
                    Map.of(
                        "code",
                        r.code(),
                        "column",
                        r.column(),
                        "rows",
                        r.rows(),
                        "open",
                        r.open(),
                        "key",
                        r.key()))
            .toList());
    screen.object(fields);
    screen.line(
        "%s  %s"
            .formatted(
                style.strong("merge " + line.mergeId() + " " + line.merge()),
                TallyFigures.sum(line.tally())));
    screen.line(
        style.faint(
            "%s into %s (%s), %s, by %s, %s"
                .formatted(
                    line.source(),
                    line.into(),
                    line.existing(),
                    Moments.minute(line.started()),
                    line.by(),
                    line.state())));
    if (!line.message().isEmpty()) {
      screen.line(line.message());
    }
    if (!files.isEmpty()) {
      TableText table = new TableText(style, ">load", ">rows", "path");
      for (TallyLine file : files) {
        table.row(Long.toString(file.loadId()), Figures.count(file.tally().read()), file.path());
      }
      screen.table(table);
    }
    for (MergeRejectLine group : rejects) {
      screen.line(
          "  %s  %s  %s%s  %s"
              .formatted(
                  style.bad("rejected"),
                  Figures.count(group.rows()),
                  group.code(),
                  group.column().isEmpty() ? "" : " " + group.column(),
                  style.faint(
                      "%s open; for example %s; %s"
                          .formatted(
                              Figures.count(group.open()),
                              group.key(),
                              MergeReport.wayOut(group.code(), line.merge())))));
    }
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

  /** Shows what a load did with each of its files. */
  public void files(long load, List<TallyLine> files) {
    if (files.isEmpty()) {
      throw Failure.usage("There is no load " + load + " with files")
          .hint("See the loads with 'dusky journal'");
    }
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
      fields.putAll(TallyFigures.fields(file.tally()));
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
