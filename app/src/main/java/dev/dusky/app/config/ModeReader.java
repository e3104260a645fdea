package dev.dusky.app.config;

import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.feed.LoadMode;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Reads what a feed's loads do to the landing table: {@code mode: append}, {@code mode: replace},
 * or a block with {@code replace} and {@code at-most}.
 */
final class ModeReader {

  private static final Pattern SLICES = Pattern.compile("by((?:\\s*,?\\s*\\{[^{}]*\\})+)");
  private static final Pattern CAPTURE = Pattern.compile("\\{([^{}]*)\\}");
  private static final Pattern PERCENT = Pattern.compile("(\\d{1,3}) ?%");

  private final Section feed;

  ModeReader(Section feed) {
    this.feed = feed;
  }

  LoadMode read() {
    Optional<Node> node = feed.node("mode");
    if (node.isEmpty()) {
      return LoadMode.APPEND;
    }
    if (!(node.get() instanceof Node.Fields)) {
      String word = feed.text("mode").orElse("");
      if (!word.equals("append") && !word.equals("replace")) {
        feed.problem(
            "mode",
            "mode cannot be '%s'; it is append, replace, or a block with replace and at-most"
                .formatted(word));
      }
      return word.equals("replace")
          ? new LoadMode.Replace(List.of(), LoadMode.DEFAULT_AT_MOST)
          : LoadMode.APPEND;
    }
    Section section = feed.section("mode", node.get());
    LoadMode mode = new LoadMode.Replace(slices(section), atMost(section));
    section.done();
    return mode;
  }

  /** {@code all}, or {@code by {day}} with captures of the files' pattern. */
  private List<String> slices(Section section) {
    String text = section.required("replace");
    Matcher by = SLICES.matcher(text);
    if (text.isEmpty() || text.equals("all")) {
      return List.of();
    }
    if (!by.matches()) {
      section.problem(
          "replace",
          "replace cannot be '%s'; it is all, or by {name} with captures of the files' pattern"
              .formatted(text));
      return List.of();
    }
    List<String> known = captures();
    List<String> names = new ArrayList<>();
    Matcher capture = CAPTURE.matcher(by.group(1));
    while (capture.find()) {
      String name = capture.group(1);
      if (!known.contains(name)) {
        section.problem(
            "replace",
            "the files' pattern captures no {%s}%s"
                .formatted(
                    name, known.isEmpty() ? "" : "; it captures " + String.join(", ", known)));
      }
      names.add(name);
    }
    return names;
  }

  private List<String> captures() {
    try {
      return feed.text("files")
          .map(FilePattern::of)
          .map(FilePattern::captureNames)
          .orElse(List.of());
    } catch (IllegalArgumentException e) {
      return List.of(); // noted where the pattern is read
    }
  }

  private static int atMost(Section section) {
    Optional<String> text = section.text("at-most");
    if (text.isEmpty()) {
      return LoadMode.DEFAULT_AT_MOST;
    }
    Matcher percent = PERCENT.matcher(text.get());
    int most = percent.matches() ? Integer.parseInt(percent.group(1)) : -1;
    if (most < 0 || most > 100) {
      section.problem(
          "at-most",
          "at-most cannot be '%s'; it is the share of rows that may be lost, such as 20%%"
              .formatted(text.get()));
      return LoadMode.DEFAULT_AT_MOST;
    }
    return most;
  }
}
