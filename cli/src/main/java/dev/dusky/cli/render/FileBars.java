package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.text.SafeText;
import java.io.PrintStream;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * A bar for each file that is being loaded, and a line for those that are settled, at the end of
 * the terminal. Where there is no terminal, a line at long intervals instead, so that a log shows
 * that work continues.
 */
final class FileBars {

  private static final long EVERY_NANOS = 100_000_000;
  private static final long LOGGED_EVERY_NANOS = 10_000_000_000L;
  private static final int BAR = 20;
  private static final int MOST_WIDTH = 120;

  /** The files that have a bar. */
  private static final int MOST_BARS = 8;

  private final PrintStream err;
  private final boolean shown;
  private final boolean silent;
  private final int width;
  private final String feed;
  private final Map<String, FileInProgress> inProgress = new LinkedHashMap<>();
  private final long startNanos = System.nanoTime();
  private long lastNanos = startNanos;
  private long posted;
  private long others;
  private long bytes;
  private long rows;
  private int drawn;

  FileBars(Screen screen, String feed) {
    this.err = screen.err();
    this.shown = screen.terminal().err() && !screen.json();
    this.silent = screen.json();
    this.width = Math.min(screen.terminal().width(), MOST_WIDTH);
    this.feed = feed;
  }

  void started(StagedFile file) {
    inProgress.put(file.path(), new FileInProgress(file.path(), file.size(), 0, 0));
  }

  void progress(StagedFile file, long read, long storedBytes) {
    inProgress.put(file.path(), new FileInProgress(file.path(), file.size(), storedBytes, read));
    long now = System.nanoTime();
    if (silent || now - lastNanos < (shown ? EVERY_NANOS : LOGGED_EVERY_NANOS)) {
      return;
    }
    lastNanos = now;
    if (shown) {
      draw();
    } else {
      err.println(SafeText.line(summary()));
    }
  }

  void finished(StagedFile file, FileState state) {
    FileInProgress done = inProgress.remove(file.path());
    if (done != null) {
      bytes += done.bytes();
      rows += done.rows();
    }
    posted += state == FileState.POSTED ? 1 : 0;
    others += state == FileState.POSTED || state == FileState.WAITING ? 0 : 1;
  }

  private void draw() {
    List<String> lines = new ArrayList<>();
    for (FileInProgress file : inProgress.values()) {
      if (lines.size() == MOST_BARS) {
        break;
      }
      lines.add(
          "  %s %3d%%  %8s  %s"
              .formatted(
                  Bar.of(file.share(), BAR),
                  Math.round(file.share() * 100),
                  Figures.bytes(file.bytes()),
                  file.path()));
    }
    lines.add(summary());
    StringBuilder out = new StringBuilder(home());
    for (int i = 0; i < lines.size(); i++) {
      String line = SafeText.line(lines.get(i));
      int most = Math.min(line.codePointCount(0, line.length()), Math.max(8, width - 1));
      out.append(i == 0 ? "" : "\n").append(line, 0, line.offsetByCodePoints(0, most));
    }
    drawn = lines.size();
    err.print(out);
    err.flush();
  }

  /** Moves to the first of the lines drawn before, and clears them. */
  private String home() {
    return drawn == 0 ? "" : (drawn > 1 ? "\u001b[" + (drawn - 1) + "A" : "") + "\r\u001b[J";
  }

  private String summary() {
    long doneBytes = bytes + inProgress.values().stream().mapToLong(FileInProgress::done).sum();
    long doneRows = rows + inProgress.values().stream().mapToLong(FileInProgress::rows).sum();
    Duration elapsed = Duration.ofNanos(System.nanoTime() - startNanos);
    return "  %s  %s posted%s, %s in progress  %s  %s/s  %s rows  %s"
        .formatted(
            feed,
            Figures.plural(posted, "file"),
            others == 0 ? "" : ", " + Figures.count(others) + " not",
            Figures.count(inProgress.size()),
            Figures.bytes(doneBytes),
            Figures.bytes((long) (doneBytes * 1e9 / Math.max(1, elapsed.toNanos()))),
            Figures.count(doneRows),
            Figures.rate(doneRows, elapsed));
  }

  /** Takes the lines away. */
  void clear() {
    if (drawn > 0) {
      err.print(home());
      err.flush();
      drawn = 0;
    }
  }
}
