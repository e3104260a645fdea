package dev.dusky.app.config;

import dev.dusky.core.draft.HabitDraft;
import dev.dusky.core.expect.Every;
import dev.dusky.core.expect.Timetable;
import java.util.ArrayList;
import java.util.List;

/** What a draft expects of files, as the configuration writes it. */
final class HabitText {

  private static final int ALL_DAYS = 7;

  private HabitText() {}

  /** The line {@code expect:}; none if nothing is expected. */
  static List<String> of(HabitDraft habit) {
    List<String> parts = new ArrayList<>();
    habit.arrivals().ifPresent(timetable -> parts.add("arrivals: " + arrivals(timetable)));
    if (habit.steady()) {
      parts.add("volume: usual");
    }
    return parts.isEmpty() ? List.of() : List.of("expect: { " + String.join(", ", parts) + " }");
  }

  private static String arrivals(Timetable timetable) {
    boolean weekdays = timetable.every() == Every.DAY && timetable.days().size() < ALL_DAYS;
    String days = timetable.dueDays() == 0 ? "" : timetable.dueDays() + " days ";
    return "{ every: %s, by: \"%s%s\", zone: %s, files: %d%s }"
        .formatted(
            weekdays ? "weekday" : timetable.every().label(),
            timetable.dueDays() == 1 ? "1 day " : days,
            timetable.by(),
            timetable.zone().getId().equals("Z") ? "UTC" : timetable.zone().getId(),
            timetable.files(),
            timetable.orMore() ? " or more" : "");
  }
}
