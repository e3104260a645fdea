package dev.dusky.cli.board;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.watch.WatchEvent;
import dev.dusky.cli.render.Bar;
import dev.dusky.cli.render.FileInProgress;
import dev.dusky.cli.render.Style;
import dev.dusky.cli.render.TableText;
import dev.dusky.core.text.SafeText;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Locale;

/**
 * The board as lines of text for a terminal of any size: a heading, a row for each feed, the last
 * events or the details of one feed, and the keys. A narrow terminal shows fewer columns, a low one
 * fewer feeds and events.
 */
final class BoardText {

  /** Lines that the events keep before feeds are left out. */
  private static final int LEAST_EVENTS = 4;

  /** Rows that the feeds keep before details are left out. */
  private static final int LEAST_FEEDS = 3;

  /** The heading, the header of the table, blank lines, and the keys. */
  private static final int FRAME = 6;

  private static final int BAR = 10;

  /**
   * The width of files in progress, kept while there are none, so that the columns stay in place.
   */
  private static final int IN_PROGRESS = BAR + " 100%  12 files".length();

  private static final DateTimeFormatter TIME =
      DateTimeFormatter.ofPattern("HH:mm:ss", Locale.ROOT).withZone(ZoneOffset.UTC);
  private static final DateTimeFormatter MOMENT =
      DateTimeFormatter.ofPattern("uuuu-MM-dd HH:mm:ss", Locale.ROOT).withZone(ZoneOffset.UTC);

  /** A column of the feeds' table, in the order in which columns are left out, last first. */
  private enum Part {
    FEED("feed"),
    NOW("=now"),
    WAITING(">waiting"),
    IN_PROGRESS("=in progress"),
    REJECTS(">rejects"),
    HELD(">held"),
    LAST_POST(">last post"),
    NEXT(">next scan"),
    SPEED(">rows/s");

    private final String name;

    Part(String name) {
      this.name = name;
    }
  }

  private final Style style;
  private final BoardView view;

  BoardText(Style style, BoardView view) {
    this.style = style;
    this.view = view;
  }

  /**
   * The lines of the board, which may be wider than the terminal.
   *
   * @param chosen the place of the chosen feed
   * @param details whether the chosen feed is shown in detail, in place of the events
   */
  List<String> lines(int width, int height, int chosen, boolean details) {
    List<String> below =
        details ? new FeedDetails(style, view, width).lines(view.feeds().get(chosen)) : events();
    int room = Math.max(0, height - FRAME);
    int kept = details ? below.size() : Math.min(LEAST_EVENTS, below.size());
    int rows = Math.min(view.feeds().size(), Math.max(Math.min(LEAST_FEEDS, room), room - kept));
    List<String> lines = new ArrayList<>();
    lines.add(heading());
    lines.add(since());
    lines.add("");
    lines.addAll(feeds(width, Math.max(1, rows), chosen));
    int left = height - lines.size() - 2;
    if (left > 0) {
      lines.add("");
      lines.addAll(
          details
              ? below.subList(0, Math.min(left, below.size()))
              : below.subList(Math.max(0, below.size() - left), below.size()));
    }
    List<String> shown = new ArrayList<>(lines.subList(0, Math.min(lines.size(), height - 1)));
    shown.addAll(Collections.nCopies(height - 1 - shown.size(), ""));
    shown.add(keys(details));
    return shown;
  }

  private String heading() {
    return "%s  watching %s  %s UTC"
        .formatted(
            style.strong("Dusky Ledger"),
            Figures.plural(view.feeds().size(), "feed"),
            MOMENT.format(view.now()));
  }

  /** What was loaded since the board opened. */
  String since() {
    FeedView.Since since = view.since();
    String posted =
        "in %s: posted %s, loaded %s"
            .formatted(
                Figures.about(view.open()),
                Figures.plural(since.posted(), "file"),
                Figures.plural(since.rows(), "row"));
    return since.refused() == 0
        ? posted
        : posted + ", " + style.bad("refused " + Figures.plural(since.refused(), "file"));
  }

  private String keys(boolean details) {
    return style.faint(
        "\u2191\u2193 choose  enter %s  s scan now  p pause  r resume  q quit"
            .formatted(details ? "events" : "details"));
  }

  private List<String> feeds(int width, int rows, int chosen) {
    int count = view.feeds().size();
    int from = Math.max(0, Math.min(chosen - rows / 2, count - rows));
    List<FeedView> shown = view.feeds().subList(from, Math.min(count, from + rows));
    List<String> lines = List.of();
    for (int parts = Part.values().length; parts >= 2; parts--) {
      lines = table(shown, parts, width - 2);
      if (lines.stream().allMatch(line -> plain(line).length() <= width - 2)) {
        break;
      }
    }
    List<String> marked = new ArrayList<>();
    String left = count > rows ? style.faint("  %d of %d".formatted(rows, count)) : "";
    marked.add("  " + lines.get(0) + left);
    for (int i = 1; i < lines.size(); i++) {
      marked.add((from + i - 1 == chosen ? style.strong("\u25b8") + " " : "  ") + lines.get(i));
    }
    return marked;
  }

  private static String plain(String styled) {
    return styled.replaceAll("\u001b\\[[0-9;]*m", "");
  }

  private List<String> table(List<FeedView> feeds, int parts, int width) {
    // The shown columns keep their place, whichever are left out.
    List<Part> columns =
        List.of(
                Part.FEED,
                Part.NOW,
                Part.WAITING,
                Part.IN_PROGRESS,
                Part.SPEED,
                Part.REJECTS,
                Part.HELD,
                Part.LAST_POST,
                Part.NEXT)
            .stream()
            .filter(part -> part.ordinal() < parts)
            .toList();
    TableText table =
        new TableText(style, columns.stream().map(part -> part.name).toArray(String[]::new));
    table.painted(1, this::painted);
    for (FeedView feed : feeds) {
      table.row(columns.stream().map(part -> cell(part, feed)).toArray(String[]::new));
    }
    return table.lines(width);
  }

  private String painted(String word) {
    return switch (word.strip()) {
      case "failing" -> style.bad(word);
      case "paused", "waiting" -> style.notable(word);
      case "loading", "scanning", "starting" -> style.strong(word);
      default -> style.good(word);
    };
  }

  private String cell(Part part, FeedView feed) {
    return switch (part) {
      case FEED -> feed.name();
      case NOW -> feed.word();
      case WAITING -> feed.waiting().map(Figures::count).orElse("?");
      case IN_PROGRESS -> inProgress(feed.inProgress());
      case REJECTS -> Figures.count(feed.rejects());
      case HELD -> Figures.count(feed.held());
      case LAST_POST -> feed.lastPost().map(this::ago).orElse("never");
      case NEXT -> feed.next().map(BoardText::until).orElse("-");
      case SPEED ->
          feed.perSecond() == 0
              ? "-"
              : Figures.perSecond((long) feed.perSecond(), Duration.ofSeconds(1));
    };
  }

  private static String inProgress(List<FileInProgress> files) {
    if (files.isEmpty()) {
      return "-" + " ".repeat(IN_PROGRESS - 1);
    }
    long bytes = files.stream().mapToLong(FileInProgress::bytes).sum();
    long done = files.stream().mapToLong(FileInProgress::done).sum();
    double share = new FileInProgress("", bytes, done, 0).share();
    return "%s %3d%%  %s"
        .formatted(
            Bar.of(share, BAR), Math.round(share * 100), Figures.plural(files.size(), "file"));
  }

  private String ago(Instant moment) {
    return Figures.about(Duration.between(moment, view.now())) + " ago";
  }

  private static String until(Duration left) {
    return left.isZero() ? "now" : "in " + Figures.about(left);
  }

  private List<String> events() {
    return view.events().stream().map(event -> event(style, event)).toList();
  }

  /** An event in one line. */
  static String event(Style style, WatchEvent event) {
    String text = SafeText.line(event.line());
    return style.faint(TIME.format(event.at()))
        + "  "
        + switch (event.level()) {
          case INFO -> text;
          case WARN -> style.notable(text);
          case ERROR -> style.bad(text);
        };
  }
}
