package dev.dusky.app.watch;

import dev.dusky.app.watch.WatchEvent.Level;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import java.time.Instant;
import java.util.Map;

/** Receives what happens while feeds are watched. Calls come from several threads. */
public interface WatchListener {

  /** Something happened. */
  void event(WatchEvent event);

  /** Something happened just now. */
  default void event(Level level, String kind, String name, String text, Map<String, ?> fields) {
    event(new WatchEvent(Instant.now(), level, kind, name, text, fields));
  }

  /** Something happened just now that has nothing but its text. */
  default void event(Level level, String kind, String name, String text) {
    event(level, kind, name, text, Map.of());
  }

  /** Watching begins, and can be influenced until it ends. */
  default void begun(WatchControl control) {}

  /** A scan of a feed begins; the result follows the progress of its files. */
  default LoadListener scanning(String feed) {
    return new LoadListener() {};
  }

  /** A scan of a feed has ended well. */
  default void scanned(LoadResult result) {}
}
