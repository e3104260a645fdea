package dev.dusky.app.watch;

import java.time.Instant;
import java.util.Map;

/**
 * Something that happened while feeds were watched.
 *
 * @param at when
 * @param level its importance
 * @param kind what kind of thing happened, such as {@code file} or {@code failure}
 * @param name the feed or merge; empty if it concerns none
 * @param text what people read
 * @param fields what machines read besides
 */
public record WatchEvent(
    Instant at, Level level, String kind, String name, String text, Map<String, ?> fields) {

  /** The importance of an event. */
  public enum Level {
    INFO(""),
    WARN("attention: "),
    ERROR("FAILED: ");

    private final String mark;

    Level(String mark) {
      this.mark = mark;
    }

    /** The words before the text of such an event. */
    public String mark() {
      return mark;
    }
  }

  /** Its name, mark and text in one line. */
  public String line() {
    return (name.isEmpty() ? "" : name + "  ") + level.mark() + text.replaceAll("\\s*\\R\\s*", " ");
  }
}
