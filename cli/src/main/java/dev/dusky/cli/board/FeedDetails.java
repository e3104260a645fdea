package dev.dusky.cli.board;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.watch.WatchEvent;
import dev.dusky.cli.render.Bar;
import dev.dusky.cli.render.FileInProgress;
import dev.dusky.cli.render.Style;
import dev.dusky.core.text.SafeText;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;

/**
 * One feed in detail: its files in progress, what needs a person and the command for it, its
 * events.
 */
final class FeedDetails {

  private static final int BAR = 20;

  /** The files in progress that are shown one by one. */
  private static final int FILES = 12;

  private final Style style;
  private final BoardView view;
  private final int width;

  FeedDetails(Style style, BoardView view, int width) {
    this.style = style;
    this.view = view;
    this.width = width;
  }

  /** The lines for a feed, the most important first. */
  List<String> lines(FeedView feed) {
    List<String> lines = new ArrayList<>();
    lines.add(style.strong(feed.name()) + "  " + style.faint(SafeText.line(feed.source())));
    lines.add(
        "  on this board: posted %s, loaded %s, refused %s"
            .formatted(
                Figures.plural(feed.since().posted(), "file"),
                Figures.plural(feed.since().rows(), "row"),
                Figures.count(feed.since().refused())));
    feed.pause()
        .ifPresent(pause -> wrapped(SafeText.line(pause)).map(style::notable).forEach(lines::add));
    feed.failure()
        .filter(failure -> feed.failures() > 0)
        .map(failure -> "failed %d\u00d7: %s".formatted(feed.failures(), SafeText.line(failure)))
        .ifPresent(failure -> wrapped(failure).map(style::bad).forEach(lines::add));
    String files = "dusky files " + feed.name();
    need(lines, feed.refused(), "file", "refused", files + " --state refused");
    need(lines, feed.revised(), "file", "revised", files + " --state revised");
    need(lines, feed.missing(), "file", "missing", files + " --missing");
    need(lines, feed.rejects(), "reject", "open", "dusky rejects " + feed.name());
    for (FileInProgress file :
        feed.inProgress().subList(0, Math.min(FILES, feed.inProgress().size()))) {
      lines.add(
          "  %s %3d%%  %s  %s  %s"
              .formatted(
                  Bar.of(file.share(), BAR),
                  Math.round(file.share() * 100),
                  Figures.bytes(file.bytes()),
                  Figures.plural(file.rows(), "row"),
                  SafeText.line(file.path())));
    }
    if (feed.inProgress().size() > FILES) {
      lines.add("  and %d more".formatted(feed.inProgress().size() - FILES));
    }
    List<WatchEvent> events =
        view.events().stream().filter(event -> event.name().equals(feed.name())).toList();
    for (int i = events.size() - 1; i >= 0; i--) {
      lines.add("  " + BoardText.event(style, events.get(i)));
    }
    return lines;
  }

  private void need(List<String> lines, long count, String noun, String word, String command) {
    if (count > 0) {
      lines.add(
          "  "
              + style.notable(Figures.plural(count, noun) + " " + word)
              + "  "
              + style.faint(command));
    }
  }

  /** Text in lines of the terminal's width, broken between words. */
  private Stream<String> wrapped(String text) {
    int room = Math.max(20, width - 2);
    List<String> lines = new ArrayList<>();
    StringBuilder line = new StringBuilder();
    for (String word : text.split(" ")) {
      if (line.length() > 0 && line.length() + 1 + word.length() > room) {
        lines.add("  " + line);
        line.setLength(0);
      }
      line.append(line.length() == 0 ? "" : " ").append(word);
    }
    lines.add("  " + line);
    return lines.stream();
  }
}
