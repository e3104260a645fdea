package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.figures.Moments;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.load.KnownFile;
import java.util.EnumMap;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/** Shows a feed's files with their states. */
public final class FilesReport {

  private static final String FORM = "  %s  %10s  %s  %s";

  private final Screen screen;
  private final Style style;
  private final Optional<FileState> only;

  /** A report on that screen, of files in one state, or all. */
  public FilesReport(Screen screen, Optional<FileState> only) {
    this.screen = screen;
    this.style = screen.style();
    this.only = only;
  }

  /** Shows the files of a feed, one by one as they are listed. */
  public void show(Feed feed, Iterator<KnownFile> files) {
    Map<FileState, Integer> counts = new EnumMap<>(FileState.class);
    long bytes = 0;
    screen.line(
        style.strong(feed.name()) + style.faint("  " + feed.files() + " in depot " + feed.depot()));
    screen.line(style.faint(FORM.formatted("state   ", "size", "modified (UTC)  ", "path")));
    while (files.hasNext()) {
      KnownFile known = files.next();
      if (only.isEmpty() || only.get() == known.state()) {
        counts.merge(known.state(), 1, Integer::sum);
        bytes += known.file().size();
        show(feed, known);
      }
    }
    int total = counts.values().stream().mapToInt(Integer::intValue).sum();
    String states =
        counts.entrySet().stream()
            .map(e -> Figures.count(e.getValue()) + " " + e.getKey().label())
            .collect(Collectors.joining(", "));
    screen.line(
        "  "
            + Figures.plural(total, "file")
            + ", "
            + Figures.bytes(bytes)
            + (states.isEmpty() ? "" : ": " + states));
  }

  private void show(Feed feed, KnownFile known) {
    screen.line(
        FORM.formatted(
            style.state("%-8s".formatted(known.state().label())),
            Figures.bytes(known.file().size()),
            Moments.minute(known.file().modified()),
            TableText.visible(known.file().path())));
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("feed", feed.name());
    fields.put("path", known.file().path());
    fields.put("state", known.state().label());
    fields.put("size", known.file().size());
    fields.put("modified", known.file().modified().toString());
    known.entry().flatMap(e -> e.loadId()).ifPresent(id -> fields.put("load", id));
    known.entry().flatMap(e -> e.message()).ifPresent(text -> fields.put("message", text));
    screen.object(fields);
  }
}
