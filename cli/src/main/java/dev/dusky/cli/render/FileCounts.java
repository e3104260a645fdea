package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.load.LoadResult;
import java.util.ArrayList;
import java.util.List;

/** How many files came into which state, in words. */
final class FileCounts {

  private FileCounts() {}

  private static void add(List<String> parts, long count, String what) {
    if (count > 0) {
      parts.add(Figures.count(count) + " " + what);
    }
  }

  static String of(LoadResult result) {
    List<String> parts = new ArrayList<>();
    for (FileState state : FileState.values()) {
      if (result.count(state) > 0) {
        parts.add(Figures.count(result.count(state)) + " " + state.label());
      }
    }
    if (result.before() > 0) {
      parts.add(Figures.count(result.before()) + " settled before");
    }
    if (result.claimed() > 0) {
      parts.add(Figures.count(result.claimed()) + " claimed by another load");
    }
    add(parts, result.aside().stuck(), "for a person");
    add(parts, result.aside().unready(), "still being written");
    add(parts, result.aside().changed(), "changed during the scan");
    return parts.isEmpty() ? "no files" : "files " + String.join(", ", parts);
  }
}
