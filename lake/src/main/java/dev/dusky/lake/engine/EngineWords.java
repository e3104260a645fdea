package dev.dusky.lake.engine;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.util.ArrayDeque;
import java.util.Deque;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** What the engine's process logs: passed on for those who debug, and its last words kept. */
final class EngineWords {

  private static final Logger LOG = LoggerFactory.getLogger(EngineWords.class);

  private static final int KEPT = 20;

  private final Deque<String> lines = new ArrayDeque<>();

  private EngineWords() {}

  static EngineWords of(InputStream stream) {
    EngineWords words = new EngineWords();
    Thread reader = new Thread(() -> words.read(stream), "engine-words");
    reader.setDaemon(true);
    reader.start();
    return words;
  }

  private void read(InputStream stream) {
    try (BufferedReader text =
        new BufferedReader(new InputStreamReader(stream, StandardCharsets.UTF_8))) {
      for (String line = text.readLine(); line != null; line = text.readLine()) {
        LOG.debug("{}", line);
        keep(line);
      }
    } catch (IOException e) {
      keep(e.toString()); // the process has ended
    }
  }

  private synchronized void keep(String line) {
    boolean trouble =
        !line.contains(" INFO ")
            && !line.contains(" WARN ")
            && !line.isBlank()
            && !line.startsWith("Picked up ");
    if (trouble && !line.startsWith("\tat ")) {
      lines.addLast(line.strip());
      if (lines.size() > KEPT) {
        lines.removeFirst();
      }
    }
  }

  /** The last line about trouble; empty if there is none. */
  synchronized String last() {
    return lines.isEmpty() ? "" : lines.peekLast();
  }
}
