package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.workspace.FeedStatus;
import dev.dusky.core.ledger.FileState;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Shows the state of feeds: what waits and since when, what was posted last, what fails. */
public final class StatusReport {

  private final Screen screen;
  private final Style style;
  private final Instant now;

  /** A report on that screen, as of that moment. */
  public StatusReport(Screen screen, Instant now) {
    this.screen = screen;
    this.style = screen.style();
    this.now = now;
  }

  /** Shows feeds, a line each, and below what needs a person. */
  public void show(List<FeedStatus> feeds) {
    TableText table =
        new TableText(
            style,
            "=feed",
            "=now",
            ">waiting",
            ">bytes",
            ">oldest",
            ">posted",
            ">last post",
            ">rows/s",
            ">refused",
            ">revised",
            ">rejects",
            ">missing",
            ">looked at",
            ">next try");
    table.painted(1, this::painted);
    for (FeedStatus feed : feeds) {
      screen.object(json(feed));
      table.row(
          feed.feed(),
          feed.word(),
          Figures.count(feed.waiting()),
          feed.waiting() == 0 ? "-" : Figures.bytes(feed.bytes()),
          feed.oldest().map(this::ago).orElse("-"),
          Figures.count(feed.states().getOrDefault(FileState.POSTED, 0L)),
          feed.posted().lastPost().map(this::ago).orElse("never"),
          feed.posted().rows() == 0
              ? "-"
              : Figures.perSecond(
                  feed.posted().rows(), Duration.ofMillis((long) (feed.posted().seconds() * 1000))),
          Figures.count(feed.states().getOrDefault(FileState.REFUSED, 0L)),
          Figures.count(feed.states().getOrDefault(FileState.REVISED, 0L)),
          Figures.count(feed.posted().openRejects()),
          feed.expected().isEmpty() ? "-" : Figures.count(feed.missing()),
          feed.watched().map(w -> ago(w.lookedAt())).orElse("never"),
          feed.watched().flatMap(w -> w.retryAt()).map(this::until).orElse("-"));
    }
    screen.table(table);
    unlisted(feeds);
    for (FeedStatus feed : feeds) {
      feed.pause().ifPresent(p -> screen.line(style.notable(feed.feed() + " is " + p)));
      feed.watched()
          .flatMap(w -> w.failure().map(f -> told(feed, w.failures(), f)))
          .ifPresent(f -> screen.line(style.bad(feed.feed() + " failed ") + f));
      if (feed.missing() > 0) {
        screen.line(
            style.bad(feed.feed())
                + " lacks %s that should have come: dusky files %s --missing"
                    .formatted(Figures.plural(feed.missing(), "file"), feed.feed()));
      }
      if (feed.held() > 0) {
        screen.line(
            "%s needs a decision on %s: dusky files %s --state %s"
                .formatted(
                    feed.feed(),
                    Figures.plural(feed.held(), "file"),
                    feed.feed(),
                    feed.states().containsKey(FileState.REFUSED) ? "refused" : "revised"));
      }
    }
  }

  /** One depot that does not answer is one sentence, however many feeds it has. */
  private void unlisted(List<FeedStatus> feeds) {
    Map<String, List<String>> causes = new LinkedHashMap<>();
    for (FeedStatus feed : feeds) {
      feed.unlisted()
          .ifPresent(u -> causes.computeIfAbsent(u, x -> new ArrayList<>()).add(feed.feed()));
    }
    causes.forEach(
        (cause, names) ->
            screen.line(
                style.bad(String.join(", ", names) + " cannot be listed: ")
                    + cause
                    + style.faint(" The numbers are those of the ledger.")));
  }

  /** The last failure, unless it is shown above. */
  private static String told(FeedStatus feed, int failures, String failure) {
    return failures
        + "\u00d7: "
        + (feed.unlisted().filter(failure::equals).isPresent() ? "the same" : failure);
  }

  private String painted(String word) {
    return switch (word.strip()) {
      case "failing" -> style.bad(word);
      case "paused", "waiting" -> style.notable(word);
      default -> style.good(word);
    };
  }

  private String ago(Instant moment) {
    return Figures.about(Duration.between(moment, now)) + " ago";
  }

  private String until(Instant moment) {
    Duration left = Duration.between(now, moment);
    return left.isNegative() ? "now" : "in " + Figures.about(left);
  }

  private Map<String, Object> json(FeedStatus feed) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("feed", feed.feed());
    fields.put("now", feed.word());
    fields.put("unlisted", feed.unlisted().orElse(null));
    for (FileState state : FileState.values()) {
      fields.put(state.label(), feed.states().getOrDefault(state, 0L));
    }
    fields.put("waiting_files", feed.waiting());
    fields.put("waiting_bytes", feed.bytes());
    fields.put("oldest_waiting", feed.oldest().map(Instant::toString).orElse(null));
    fields.put(
        "lag_seconds", feed.oldest().map(o -> Duration.between(o, now).toSeconds()).orElse(0L));
    fields.put("last_post", feed.posted().lastPost().map(Instant::toString).orElse(null));
    fields.put("rows_last_day", feed.posted().rows());
    fields.put("seconds_last_day", feed.posted().seconds());
    fields.put("open_rejects", feed.posted().openRejects());
    fields.put("missing_files", feed.missing());
    fields.put("looked_at", feed.watched().map(w -> w.lookedAt().toString()).orElse(null));
    fields.put("looked_by", feed.watched().map(w -> w.lookedBy()).orElse(null));
    fields.put("failures", feed.watched().map(w -> w.failures()).orElse(0));
    fields.put("failure", feed.watched().flatMap(w -> w.failure()).orElse(null));
    fields.put(
        "next_try", feed.watched().flatMap(w -> w.retryAt()).map(Instant::toString).orElse(null));
    fields.put("pause", feed.pause().map(Object::toString).orElse(null));
    return fields;
  }
}
