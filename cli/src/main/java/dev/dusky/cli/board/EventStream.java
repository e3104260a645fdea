package dev.dusky.cli.board;

import dev.dusky.app.watch.WatchEvent;
import dev.dusky.app.watch.WatchListener;
import java.io.ByteArrayOutputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;

/** A stream whose lines become events, so that they do not break the board. */
final class EventStream extends OutputStream {

  /** Longer lines become several events. */
  private static final int LONGEST = 4096;

  private final WatchListener listener;
  private final ByteArrayOutputStream line = new ByteArrayOutputStream();

  EventStream(WatchListener listener) {
    this.listener = listener;
  }

  @Override
  public synchronized void write(int b) {
    if (b == '\n' || line.size() >= LONGEST) {
      end();
    }
    if (b != '\n' && b != '\r') {
      line.write(b);
    }
  }

  private void end() {
    if (line.size() > 0) {
      String text = line.toString(StandardCharsets.UTF_8);
      line.reset();
      listener.event(WatchEvent.Level.WARN, "output", "", text);
    }
  }
}
