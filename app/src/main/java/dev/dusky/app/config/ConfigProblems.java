package dev.dusky.app.config;

import dev.dusky.core.failure.Failure;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Collectors;

/** All errors of a configuration, reported together in the order of lines. */
final class ConfigProblems {

  private record Entry(int line, String message) {}

  private final List<Entry> entries = new ArrayList<>();

  void add(int line, String message) {
    entries.add(new Entry(line, message));
  }

  void failIfAny(Path file) {
    if (entries.isEmpty()) {
      return;
    }
    String all =
        entries.stream()
            .sorted(Comparator.comparingInt(Entry::line))
            .map(entry -> "line " + entry.line() + ": " + entry.message())
            .collect(Collectors.joining("; "));
    throw Failure.configuration(file + " cannot be followed").because(all);
  }

  /** Fails because something on the command line cannot be followed. */
  void failUsage(String what) {
    if (!entries.isEmpty()) {
      throw Failure.usage("There are errors in " + what)
          .because(entries.stream().map(Entry::message).collect(Collectors.joining("; ")));
    }
  }
}
