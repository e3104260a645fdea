package dev.dusky.core.alert;

import java.time.Instant;
import java.util.Locale;

/**
 * A message about an alert that is due.
 *
 * @param event what happened to the alert
 * @param change the number of that change of the alert; opening is 0
 * @param attempts how many times sending it failed
 */
public record AlertMessage(
    long id,
    long alertId,
    Event event,
    int change,
    AlertKind kind,
    String about,
    String words,
    String command,
    Instant at,
    int attempts) {

  /** What happened to an alert. */
  public enum Event {
    /** Its condition was found. */
    OPEN,
    /** Its condition has changed. */
    CHANGED,
    /** Its condition is no longer so. */
    OVER,
    /** Nothing; somebody tries whether messages arrive. */
    TRIAL;

    /** The event as shown and stored. */
    public String label() {
      return name().toLowerCase(Locale.ROOT);
    }

    /** The event with this label. */
    public static Event of(String label) {
      return valueOf(label.toUpperCase(Locale.ROOT));
    }
  }

  /** What is the same in each attempt to send this message, and in no other message. */
  public String identity() {
    return "alert-%d-%d".formatted(alertId, change);
  }
}
