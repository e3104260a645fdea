package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.core.stream.StreamListener;
import dev.dusky.core.stream.StreamStager;
import java.util.LinkedHashMap;
import java.util.Map;

/** Shows each file of a stream once it is staged. */
public final class StreamReport implements StreamListener {

  private final Screen screen;
  private final long startNanos = System.nanoTime();

  /** A report on that screen. */
  public StreamReport(Screen screen) {
    this.screen = screen;
  }

  /** Records are taken now. */
  public void listening(String listen, int port) {
    String host = listen.substring(0, listen.lastIndexOf(':'));
    screen.line("taking records at http://%s:%d/records; Ctrl-C ends it".formatted(host, port));
    screen.object(Map.of("event", "listening", "port", port));
  }

  @Override
  public synchronized void staged(String path, long records, long bytes) {
    screen.line(
        "  %s %s%s"
            .formatted(
                screen.style().good("%-14s".formatted("staged")),
                path,
                screen
                    .style()
                    .faint(
                        "  " + Figures.plural(records, "record") + ", " + Figures.bytes(bytes))));
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", "file");
    fields.put("path", path);
    fields.put("records", records);
    fields.put("bytes", bytes);
    screen.object(fields);
  }

  @Override
  public synchronized void remark(String what) {
    screen.remark(what);
  }

  @Override
  public synchronized void waiting(String path, String why) {
    screen.remark(path + " waits: " + why);
  }

  /** Shows the sum. */
  public void end(String depot, StreamStager.Result result) {
    String odd =
        result.malformed() == 0
            ? ""
            : screen
                .style()
                .bad(
                    "  %s that are not JSON objects or arrays, staged as they are"
                        .formatted(Figures.plural(result.malformed(), "record")));
    screen.line(
        "%s  %s in %s   %s%s"
            .formatted(
                screen.style().strong(depot),
                Figures.plural(result.records(), "record"),
                Figures.plural(result.files(), "file"),
                Figures.duration(java.time.Duration.ofNanos(System.nanoTime() - startNanos)),
                odd));
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("event", "streamed");
    fields.put("depot", depot);
    fields.put("files", result.files());
    fields.put("records", result.records());
    fields.put("malformed", result.malformed());
    screen.object(fields);
  }
}
