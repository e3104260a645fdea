package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.core.depot.StaleUpload;
import dev.dusky.core.stage.LocalFile;
import dev.dusky.core.stage.StageListener;
import dev.dusky.core.stage.StageResult;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;

/**
 * Shows each file as it is done, the first ones only where they are many, and how far all of it is.
 */
public final class StageReport implements StageListener {

  private static final int MOST_LISTED = 20;

  /** Drops uploads, or not, telling each, and gives how many are too young for it. */
  @FunctionalInterface
  public interface Tidying {
    /** Does it. */
    int run(boolean rehearse, Consumer<StaleUpload> dropped);
  }

  private final Screen screen;
  private final ProgressLine line;
  private long bytes;
  private int listed;

  /** A report on that screen. */
  public StageReport(Screen screen) {
    this.screen = screen;
    this.line = new ProgressLine(screen);
  }

  /** Staging begins. */
  public void begin(List<LocalFile> files) {
    line.start(
        Figures.plural(files.size(), "file"), files.stream().mapToLong(LocalFile::size).sum());
  }

  /** Shows what a staging would do. */
  public void meant(String depot, List<LocalFile> files) {
    for (LocalFile file : files) {
      screen.object(Map.of("event", "meant", "path", file.path(), "local", file.shown()));
      if (++listed <= MOST_LISTED) {
        screen.line(
            "  %s %s%s"
                .formatted(
                    screen.style().faint("%-14s".formatted("would stage")),
                    file.path(),
                    screen.style().faint("  " + Figures.bytes(file.size()))));
      }
    }
    more();
    screen.line(
        "%s  %s, %s; nothing was sent"
            .formatted(
                screen.style().strong(depot),
                Figures.plural(files.size(), "file"),
                Figures.bytes(files.stream().mapToLong(LocalFile::size).sum())));
  }

  @Override
  public synchronized void sent(long count) {
    bytes += count;
    line.update(bytes, 0);
  }

  @Override
  public synchronized void done(LocalFile file, Outcome outcome, String why) {
    line.clear();
    screen.object(
        Map.of("event", "file", "path", file.path(), "outcome", outcome.label(), "why", why));
    boolean good = outcome.good();
    if (good && ++listed > MOST_LISTED) {
      return;
    }
    String word = "%-14s".formatted(outcome.label());
    screen.line(
        "  "
            + (outcome == Outcome.STAGED
                ? screen.style().good(word)
                : good ? screen.style().faint(word) : screen.style().bad(word))
            + " "
            + file.path()
            + screen.style().faint("  " + Figures.bytes(file.size())));
    if (outcome == Outcome.DIFFERING) {
      screen.line("                 exists with other content; --replace replaces it");
    } else if (!why.isEmpty()) {
      screen.line("                 " + why.replace("\n", "\n                 "));
    }
  }

  /** Shows the sum. */
  public void end(String depot, StageResult result) {
    line.clear();
    more();
    screen.line(
        "%s  %d staged (%s), %d there already, %d left alone%s   %s%s"
            .formatted(
                screen.style().strong(depot),
                result.staged(),
                Figures.bytes(result.bytes()),
                result.same(),
                result.differing(),
                result.unreadable() == 0
                    ? ""
                    : screen.style().bad(", " + result.unreadable() + " failed"),
                Figures.duration(result.elapsed()),
                result.bytes() < 1_000_000
                    ? ""
                    : "   "
                        + Figures.bytes((long) (result.bytes() * 1e9 / result.elapsed().toNanos()))
                        + "/s"));
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", "staged");
    fields.put("depot", depot);
    fields.put("staged", result.staged());
    fields.put("bytes", result.bytes());
    fields.put("same", result.same());
    fields.put("differing", result.differing());
    fields.put("failed", result.unreadable());
    screen.object(fields);
  }

  /** Says where the manifest is. */
  public void manifest(String depot, String path, StageResult result) {
    screen.line(
        "manifest of %s at %s:%s"
            .formatted(Figures.plural(result.staged() + result.same(), "file"), depot, path));
  }

  private void more() {
    if (listed > MOST_LISTED) {
      screen.line(
          screen.style().faint("  and " + Figures.count(listed - MOST_LISTED) + " more files"));
    }
  }

  /** Drops unfinished uploads and shows them. */
  public void tidied(String depot, boolean rehearse, Tidying work) {
    int[] count = {0};
    int younger =
        work.run(
            rehearse,
            upload -> {
              count[0]++;
              screen.line("  %s  begun %s".formatted(upload.path(), upload.begun()));
              screen.object(
                  Map.of(
                      "event",
                      rehearse ? "stale" : "dropped",
                      "path",
                      upload.path(),
                      "begun",
                      upload.begun().toString()));
            });
    screen.line(
        "%s  %s %s, %s left that may be under way"
            .formatted(
                screen.style().strong(depot),
                Figures.plural(count[0], "unfinished upload"),
                rehearse ? "would be dropped" : "dropped",
                Figures.count(younger)));
  }
}
