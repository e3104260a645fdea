package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.figures.Moments;
import dev.dusky.app.workspace.FeedStatus;
import dev.dusky.core.expect.Expected;
import dev.dusky.core.expect.Expected.Verdict;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Shows the periods in which files are missing, came late, or came in too great a number. */
public final class ExpectedReport {

  private final Screen screen;

  /** A report on that screen. */
  public ExpectedReport(Screen screen) {
    this.screen = screen;
  }

  /** Shows feeds, some of which have a timetable. */
  public void show(List<FeedStatus> feeds) {
    Style style = screen.style();
    TableText table =
        new TableText(
            style,
            "=feed",
            "=period",
            "=verdict",
            ">expected",
            ">came",
            ">late",
            "=due",
            "=last came");
    table.painted(2, word -> painted(style, word));
    long missing = 0;
    boolean any = false;
    for (FeedStatus feed : feeds) {
      missing += feed.missing();
      for (Expected period : feed.expected()) {
        if (period.verdict() == Verdict.WHOLE) {
          continue;
        }
        any = true;
        screen.object(json(feed.feed(), period));
        table.row(
            feed.feed(),
            period.period(),
            period.verdict().label(),
            Figures.count(period.files()),
            Figures.count(period.came()),
            Figures.count(period.late()),
            Moments.minute(period.due()),
            period.last().map(Moments::minute).orElse("-"));
      }
    }
    if (any) {
      screen.table(table);
    }
    long days = FeedStatus.LOOK_BACK.toDays();
    if (feeds.stream().allMatch(feed -> feed.expected().isEmpty())) {
      screen.line("No feed says when its files are expected; declare it under expect: arrivals");
    } else if (missing == 0) {
      screen.line("All files that were due in the last %d days came.".formatted(days));
    } else {
      screen.line(
          "%s due in the last %d days did not come. Times are UTC."
              .formatted(Figures.plural(missing, "file"), days));
    }
  }

  private static String painted(Style style, String word) {
    return switch (word.strip()) {
      case "missing" -> style.bad(word);
      case "ahead" -> style.faint(word);
      default -> style.notable(word);
    };
  }

  private static Map<String, Object> json(String feed, Expected period) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("feed", feed);
    fields.put("period", period.period());
    fields.put("begins", period.begins().toString());
    fields.put("due", period.due().toString());
    fields.put("verdict", period.verdict().label());
    fields.put("expected", period.files());
    fields.put("came", period.came());
    fields.put("late", period.late());
    fields.put("last_came", period.last().map(Object::toString).orElse(null));
    return fields;
  }
}
