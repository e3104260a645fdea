package dev.dusky.core.feed;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/**
 * When a file counts as written to its end.
 *
 * @param quiet how long it must not have changed; zero if it need not wait
 * @param marker the path of the file that says so, in which {@code {path}} represents the file's
 *     own path and {@code {folder}} for its folder with a slash at the end
 */
public record Readiness(Duration quiet, Optional<String> marker) {

  /** Every file that is seen is whole, as object stores have it. */
  public static final Readiness AT_ONCE = new Readiness(Duration.ZERO, Optional.empty());

  /** Whether a file last changed at {@code modified} has been left alone for long enough. */
  public boolean quietAt(Instant modified, Instant now) {
    return quiet.isZero() || !modified.plus(quiet).isAfter(now);
  }

  /** The path of the file whose presence says that this one is whole. */
  public Optional<String> markerOf(String path) {
    String folder = path.substring(0, path.lastIndexOf('/') + 1);
    return marker.map(form -> form.replace("{path}", path).replace("{folder}", folder));
  }
}
