package dev.dusky.core.stage;

import dev.dusky.core.stage.StageListener.Outcome;
import java.time.Duration;
import java.util.EnumMap;
import java.util.Map;

/** How many files had which outcome. */
final class OutcomeCounts {

  private final Map<Outcome, Integer> counts = new EnumMap<>(Outcome.class);
  private long bytes;

  void add(Outcome outcome, long size) {
    counts.merge(outcome, 1, Integer::sum);
    bytes += outcome == Outcome.STAGED ? size : 0;
  }

  private int of(Outcome outcome) {
    return counts.getOrDefault(outcome, 0);
  }

  StageResult result(Duration elapsed) {
    return new StageResult(
        of(Outcome.STAGED),
        bytes,
        of(Outcome.SAME),
        of(Outcome.DIFFERING),
        of(Outcome.UNREADABLE),
        elapsed);
  }
}
