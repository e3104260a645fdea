package dev.dusky.app.config;

import dev.dusky.app.config.WatchSettings.MergeTiming;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Collects when merges run by themselves, from what they say they come after. */
final class MergeTimings {

  private final Map<String, MergeTiming> timings = new LinkedHashMap<>();

  /** When merges run by themselves, by name. */
  Map<String, MergeTiming> all() {
    return Map.copyOf(timings);
  }

  /** The merges that come before; {@code each load} and {@code every 10 min} say when it runs. */
  List<String> after(String name, Section section) {
    List<String> names = new ArrayList<>();
    boolean eachLoad = false;
    Optional<Duration> every = Optional.empty();
    for (String text : section.texts("after").orElse(List.of())) {
      if (text.equals("each load")) {
        eachLoad = true;
      } else if (text.startsWith("every ")) {
        every = DurationText.parse(text.substring(6)).filter(span -> !span.isZero());
        if (every.isEmpty()) {
          section.problem(
              "after", "'%s' is not an interval: write every 10 min, or every 2 h".formatted(text));
        }
      } else {
        names.add(text);
      }
    }
    if (eachLoad || every.isPresent()) {
      timings.put(name, new MergeTiming(eachLoad, every));
    }
    return names;
  }
}
