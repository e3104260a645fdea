package dev.dusky.app.watch;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.dusky.core.text.SafeText;
import java.io.PrintStream;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;

/** The log of a watcher, one line per event, for people or for machines. */
public final class WatchLog implements WatchListener {

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

  @Override
  public synchronized void event(WatchEvent event) {
    if (!structured) {
      out.println(SafeText.line(SECOND.format(event.at()) + "  " + event.line()));
      return;
    }
    Map<String, Object> all = new LinkedHashMap<>();
    all.put("time", event.at().toString());
    all.put("level", event.level().name().toLowerCase(Locale.ROOT));
    all.put("event", event.kind());
    all.put("name", event.name());
    all.put("message", event.text());
    all.putAll(event.fields());
    try {
      out.println(SafeText.json(mapper.writeValueAsString(all)));
    } catch (JsonProcessingException e) {
      throw new IllegalStateException("a log line that cannot be written as JSON", e);
    }
  }
}
