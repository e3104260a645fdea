package dev.dusky.cli.demo;

import java.util.ArrayList;
import java.util.List;

/**
 * Which lines of a command's output are shown: those that contain one of the texts, or all if there
 * are none, up to a number of lines.
 *
 * @param texts the texts; none for all lines
 * @param most the maximum number of lines
 */
record Excerpt(List<String> texts, int most) {

  /** The whole output. */
  static final Excerpt ALL = new Excerpt(List.of(), Integer.MAX_VALUE);

  /** The first lines. */
  static Excerpt first(int lines) {
    return new Excerpt(List.of(), lines);
  }

  /** The lines that contain one of the texts. */
  static Excerpt with(String... texts) {
    return new Excerpt(List.of(texts), Integer.MAX_VALUE);
  }

  /** The chosen lines, and the number of the others. */
  List<String> of(List<String> lines) {
    List<String> shown = new ArrayList<>();
    for (String line : lines) {
      if (shown.size() < most && (texts.isEmpty() || texts.stream().anyMatch(line::contains))) {
        shown.add(line);
      }
    }
    int others = lines.size() - shown.size();
    if (others > 0) {
      shown.add("  … %d more %s".formatted(others, others == 1 ? "line" : "lines"));
    }
    return shown;
  }
}
