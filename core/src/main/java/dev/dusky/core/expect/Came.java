package dev.dusky.core.expect;

import java.time.Instant;
import java.time.LocalDate;
import java.util.Map;
import java.util.Optional;

/**
 * A file that came.
 *
 * @param path its path in the depot
 * @param captures what its path captures
 * @param at when it was written
 */
public record Came(String path, Map<String, String> captures, Instant at) {

  /** The moment in the timetable's periods that the file belongs to, if its path has one. */
  Optional<Instant> belongs(Timetable timetable) {
    if (timetable.day().isEmpty()) {
      return Optional.of(at);
    }
    try {
      LocalDate day = LocalDate.parse(captures.getOrDefault(timetable.day().get(), ""));
      int hour = timetable.hour().map(name -> Integer.parseInt(captures.get(name))).orElse(0);
      return Optional.of(day.atTime(hour, 0).atZone(timetable.zone()).toInstant());
    } catch (java.time.DateTimeException | NumberFormatException e) {
      return Optional.empty(); // 2026-02-30 and hour 31 fit a pattern and do not exist
    }
  }
}
