package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.core.text.SafeText;
import java.io.PrintStream;
import java.time.Duration;

/**
 * One line on the terminal that shows how far the work is. Where there is no terminal, a line at
 * long intervals instead, so that a log shows that work continues.
 */
final class ProgressLine {

  private static final long EVERY_NANOS = 100_000_000;
  private static final long LOGGED_EVERY_NANOS = 10_000_000_000L;
  private static final int BAR = 20;
  private static final int MOST_WIDTH = 120;

  private final PrintStream err;
  private final boolean shown;
  private final boolean silent;
  private final int width;
  private String name = "";
  private long total;
  private long startNanos;
  private long lastNanos;
  private boolean drawn;

  /** A progress line on that screen's terminal. */
  public ProgressLine(Screen screen) {
    this.err = screen.err();
    this.shown = screen.terminal().err() && !screen.json();
    this.silent = screen.json();
    this.width = Math.min(screen.terminal().width(), MOST_WIDTH);
  }

  /** Work on that many bytes begins. */
  public void start(String newName, long totalBytes) {
    name = newName;
    total = totalBytes;
    startNanos = System.nanoTime();
    lastNanos = startNanos;
  }

  /** The current work has changed; the count continues under another name. */
  public void change(String newName, long totalBytes) {
    name = newName;
    total = totalBytes;
  }

  /** Notes the bytes done so far; redraws at intervals. */
  public void update(long bytes, long rows) {
    long now = System.nanoTime();
    if (silent || now - lastNanos < (shown ? EVERY_NANOS : LOGGED_EVERY_NANOS)) {
      return;
    }
    lastNanos = now;
    String text = text(bytes, rows, Duration.ofNanos(now - startNanos));
    if (!shown) {
      err.println(SafeText.line(text));
      return;
    }
    drawn = true;
    err.print("\r" + SafeText.line(text) + "\u001b[K");
    err.flush();
  }

  private String text(long bytes, long rows, Duration elapsed) {
    double done = total == 0 ? 1 : Math.min(1, (double) bytes / total);
    int filled = (int) Math.round(done * BAR);
    long restSeconds = done <= 0 ? 0 : Math.round(elapsed.toMillis() / 1000.0 * (1 - done) / done);
    String figures =
        " %s%3d%%  %s  %s/s%s  %s left"
            .formatted(
                shown ? "\u2501".repeat(filled) + "\u2500".repeat(BAR - filled) + " " : "",
                Math.round(done * 100),
                Figures.bytes(bytes),
                Figures.bytes((long) (bytes * 1e9 / Math.max(1, elapsed.toNanos()))),
                rows == 0
                    ? ""
                    : "  " + Figures.count(rows) + " rows  " + Figures.rate(rows, elapsed),
                Figures.duration(Duration.ofSeconds(restSeconds)));
    int room = Math.max(8, width - figures.length() - 3);
    String shownName =
        name.length() <= room ? name : "\u2026" + name.substring(name.length() - room + 1);
    return "  " + shownName + figures;
  }

  /** Takes the line away. */
  public void clear() {
    if (drawn) {
      err.print("\r\u001b[K");
      err.flush();
      drawn = false;
    }
  }
}
