package dev.dusky.app.alert;

import dev.dusky.core.alert.AlertMessage;
import dev.dusky.core.alert.AlertMessage.Event;
import java.util.LinkedHashMap;
import java.util.Map;

/** Messages as people and programs read them. */
final class MessageText {

  private MessageText() {}

  /** A line: what it is about, and what is so, or no longer is. */
  static String line(AlertMessage message) {
    String over = message.event() == Event.OVER ? "over: " : "";
    String again = message.event() == Event.CHANGED ? "changed: " : "";
    return "%s: %s%s%s".formatted(message.about(), over, again, message.words());
  }

  /** The figures of a message. */
  static Map<String, Object> fields(AlertMessage message) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("alert", message.alertId());
    fields.put("event", message.event().label());
    fields.put("kind", message.kind().label());
    fields.put("about", message.about());
    fields.put("words", message.words());
    fields.put("command", message.command());
    fields.put("at", message.at().toString());
    return fields;
  }
}
