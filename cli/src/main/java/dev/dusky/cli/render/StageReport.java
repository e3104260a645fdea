package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.core.stage.LocalFile;
import dev.dusky.core.stage.StageListener;
import dev.dusky.core.stage.StageResult;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Shows each file as it is done and, on a terminal, how far all of it is. */
public final class StageReport implements StageListener {

  private static final int MOST_LISTED = 40;
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
        files.size() == 1 ? "1 file" : Figures.count(files.size()) + " files",
        files.stream().mapToLong(LocalFile::size).sum());
  }

  @Override
  public synchronized void sent(long count) {
    bytes += count;
    line.update(bytes, 0);
  }

  @Override
  public synchronized void done(LocalFile file, Outcome outcome) {
    line.clear();
    screen.object(Map.of("event", "file", "path", file.path(), "outcome", outcome.label()));
    if (outcome != Outcome.DIFFERING && ++listed > MOST_LISTED) {
      return;
    }
    String word = "%-14s".formatted(outcome.label());
    screen.line(
        "  "
            + (outcome == Outcome.STAGED
                ? screen.style().good(word)
                : outcome == Outcome.SAME ? screen.style().faint(word) : screen.style().bad(word))
            + " "
            + file.path()
            + screen.style().faint("  " + Figures.bytes(file.size())));
    if (outcome == Outcome.DIFFERING) {
      screen.line("                 exists with other content; --replace replaces it");
    }
  }

  /** Shows the sum. */
  public void end(String depot, StageResult result) {
    line.clear();
    if (listed > MOST_LISTED) {
      screen.line(screen.style().faint("  and " + (listed - MOST_LISTED) + " more"));
    }
    screen.line(
        "%s  %d staged (%s), %d there already, %d left alone   %s"
            .formatted(
                screen.style().strong(depot),
                result.staged(),
                Figures.bytes(result.bytes()),
                result.same(),
                result.differing(),
                Figures.duration(result.elapsed())));
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", "staged");
    fields.put("depot", depot);
    fields.put("staged", result.staged());
    fields.put("bytes", result.bytes());
    fields.put("same", result.same());
    fields.put("differing", result.differing());
    screen.object(fields);
  }
}
