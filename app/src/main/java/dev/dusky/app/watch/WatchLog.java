package dev.dusky.app.watch;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.dusky.core.text.SafeText;
import java.io.PrintStream;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;

/** The log of a watcher, one line per event, for people or for machines. */
public final class WatchLog {

  /** How much a line matters. */
  public enum Level {
    INFO,
    WARN,
    ERROR
  }

  private static final DateTimeFormatter SECOND =
      DateTimeFormatter.ofPattern("uuuu-MM-dd HH:mm:ss", Locale.ROOT).withZone(ZoneOffset.UTC);

  private final PrintStream out;
  private final boolean structured;
  private final ObjectMapper mapper = new ObjectMapper();

  /**
   * A log.
   *
   * @param structured whether each line is a JSON object
   */
  public WatchLog(PrintStream out, boolean structured) {
    this.out = out;
    this.structured = structured;
  }

  /** Writes a line that has nothing but its text. */
  public void line(Level level, String event, String name, String text) {
    line(level, event, name, text, Map.of());
  }

  /**
   * Writes a line.
   *
   * @param event what kind of thing happened
   * @param name the feed or merge
   * @param text what people read
   * @param fields what machines read besides
   */
  public synchronized void line(
      Level level, String event, String name, String text, Map<String, ?> fields) {
    Instant now = Instant.now();
    if (!structured) {
      String mark = level == Level.INFO ? "" : level == Level.WARN ? "attention: " : "FAILED: ";
      out.println(
          SafeText.line(
              SECOND.format(now) + "  " + name + (name.isEmpty() ? "" : "  ") + mark + text));
      return;
    }
    Map<String, Object> all = new LinkedHashMap<>();
    all.put("time", now.toString());
    all.put("level", level.name().toLowerCase(java.util.Locale.ROOT));
    all.put("event", event);
    all.put("name", name);
    all.put("message", text);
    all.putAll(fields);
    try {
      out.println(SafeText.json(mapper.writeValueAsString(all)));
    } catch (JsonProcessingException e) {
      throw new IllegalStateException("a log line that cannot be written as JSON", e);
    }
  }
}
