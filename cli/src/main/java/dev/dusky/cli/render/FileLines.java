package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.core.ledger.FileState;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/**
 * The lines of settled files in a limited number. The first are written at once. When the load
 * ends, those that need a person come next, and what has no room is counted.
 */
final class FileLines {

  /** Lines that are written at once. */
  private static final int AT_ONCE = 10;

  /** Lines of one feed's files in all. */
  private static final int MOST = 16;

  private record Entry(FileState state, List<String> lines) {}

  private final Screen screen;
  private final String feed;
  private final boolean all;
  private final List<Entry> kept = new ArrayList<>();
  private final Map<FileState, Long> left = new EnumMap<>(FileState.class);
  private int written;
  private long keptLines;

  /**
   * The lines of a feed's files.
   *
   * @param all whether every file is listed
   */
  FileLines(Screen screen, String feed, boolean all) {
    this.screen = screen;
    this.feed = feed;
    this.all = all;
  }

  /** Lists a file in these lines, or keeps them. */
  void add(FileState state, List<String> lines) {
    if (all || keptLines == 0 && written + lines.size() <= AT_ONCE) {
      write(lines);
      return;
    }
    keptLines += lines.size();
    if (room(state) >= lines.size()) {
      kept.add(new Entry(state, lines));
    } else {
      left.merge(state, 1L, Long::sum);
    }
  }

  /** Files that need a person and others are kept apart, so that neither crowds out the other. */
  private int room(FileState state) {
    return MOST
        - kept.stream()
            .filter(entry -> needsPerson(entry.state()) == needsPerson(state))
            .mapToInt(entry -> entry.lines().size())
            .sum();
  }

  private static boolean needsPerson(FileState state) {
    return state == FileState.REFUSED || state == FileState.REVISED;
  }

  private void write(List<String> lines) {
    written += lines.size();
    lines.forEach(screen::line);
  }

  /** Writes, once, what was kept as far as there is room, and counts the rest. */
  void end() {
    boolean fits = left.isEmpty() && written + keptLines <= MOST;
    kept.removeIf(
        entry -> {
          boolean writes =
              fits || entry.state() != FileState.POSTED && written + entry.lines().size() <= MOST;
          if (writes) {
            write(entry.lines());
          }
          return writes;
        });
    kept.forEach(entry -> left.merge(entry.state(), 1L, Long::sum));
    if (!left.isEmpty()) {
      String counts =
          left.entrySet().stream()
              .map(entry -> Figures.count(entry.getValue()) + " " + entry.getKey().label())
              .collect(Collectors.joining(", "));
      screen.line(
          screen
              .style()
              .faint("  not listed: %s; see dusky files %s, or --verbose".formatted(counts, feed)));
    }
    kept.clear();
    left.clear();
  }
}
