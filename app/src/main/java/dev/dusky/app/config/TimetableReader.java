package dev.dusky.app.config;

import dev.dusky.core.expect.Every;
import dev.dusky.core.expect.Timetable;
import dev.dusky.core.feed.FilePattern;
import java.time.DateTimeException;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.LocalTime;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Reads when a feed's files are expected, such as {@code arrivals: { every: day, by: "07:30" }}.
 */
final class TimetableReader {

  private static final Pattern BY = Pattern.compile("(?:(\\d{1,2}) days? )?(\\d\\d:\\d\\d)");
  private static final Pattern FILES = Pattern.compile("([1-9]\\d{0,5})( or more)?");
  private static final String HOUR = "hour";
  private static final String ARRIVAL = "arrival";
  private static final Set<DayOfWeek> WEEKDAYS = EnumSet.range(DayOfWeek.MONDAY, DayOfWeek.FRIDAY);

  private final Section section;
  private final FilePattern files;

  /** Reads the section {@code arrivals} of a feed that takes such files. */
  TimetableReader(Section section, FilePattern files) {
    this.section = section;
    this.files = files;
  }

  Timetable read() {
    String word = section.required("every");
    boolean weekday = word.equals("weekday");
    Every every = weekday ? Every.DAY : every(word);
    Matcher by = by();
    int dueDays = by.group(1) == null ? 0 : Integer.parseInt(by.group(1));
    if (dueDays > Timetable.MOST_DUE_DAYS) {
      section.problem("by", "by can be at most %d days".formatted(Timetable.MOST_DUE_DAYS));
    }
    String count = section.text("files").orElse("1");
    Matcher number = FILES.matcher(count);
    boolean counted = number.matches();
    if (!counted) {
      section.problem(
          "files",
          "files cannot be '%s'; write a count such as 24, or 24 or more".formatted(count));
    }
    Optional<String> day = day();
    Timetable timetable =
        new Timetable(
            every,
            dueDays,
            time(by.group(2)),
            ZoneText.read(section),
            counted ? Integer.parseInt(number.group(1)) : 1,
            counted && number.group(2) != null,
            days(weekday),
            except(),
            section.text("from").flatMap(text -> date("from", text)),
            day,
            every == Every.HOUR && day.isPresent() ? hour() : Optional.empty());
    section.done();
    return timetable;
  }

  private Every every(String word) {
    for (Every every : Every.values()) {
      if (every.label().equals(word)) {
        return every;
      }
    }
    if (!word.isEmpty()) {
      section.problem(
          "every", "every cannot be '%s'; it is hour, day, weekday, week or month".formatted(word));
    }
    return Every.DAY;
  }

  private Matcher by() {
    String text = section.required("by");
    Matcher matcher = BY.matcher(text);
    if (matcher.matches()) {
      return matcher;
    }
    if (!text.isEmpty()) {
      section.problem(
          "by",
          "by cannot be '%s'; write the time at which files are due, such as \"07:30\" or \"1 day 07:30\", counted from the beginning of the period"
              .formatted(text));
    }
    Matcher midnight = BY.matcher("00:00");
    midnight.matches();
    return midnight;
  }

  private LocalTime time(String text) {
    try {
      return LocalTime.parse(text);
    } catch (DateTimeException e) {
      section.problem("by", "by cannot be '%s'; hours go from 00 to 23".formatted(text));
      return LocalTime.MIDNIGHT;
    }
  }

  private Set<DayOfWeek> days(boolean weekday) {
    String text = section.text("calendar").orElse(weekday ? "weekdays" : "all");
    if (!text.equals("weekdays") && !text.equals("all")) {
      section.problem("calendar", "calendar cannot be '%s'; it is all or weekdays".formatted(text));
    }
    return text.equals("weekdays") ? WEEKDAYS : EnumSet.allOf(DayOfWeek.class);
  }

  private Set<LocalDate> except() {
    Set<LocalDate> days = new HashSet<>();
    for (String text : section.texts("except").orElse(List.of())) {
      date("except", text).ifPresent(days::add);
    }
    return days;
  }

  private Optional<LocalDate> date(String key, String text) {
    try {
      return Optional.of(LocalDate.parse(text));
    } catch (DateTimeException e) {
      section.problem(key, "'%s' is not a day; write one such as 2026-12-24".formatted(text));
      return Optional.empty();
    }
  }

  /** The captured date that is a file's day: the only one, or the one that is named. */
  private Optional<String> day() {
    List<String> dates = files.dateNames();
    Optional<String> told = section.text("period-from");
    if (told.isEmpty()) {
      return dates.size() == 1 ? Optional.of(dates.get(0)) : Optional.empty();
    }
    if (told.get().equals(ARRIVAL)) {
      return Optional.empty();
    }
    if (!dates.contains(told.get())) {
      section.problem(
          "period-from",
          "period-from cannot be '%s'; it is arrival%s"
              .formatted(
                  told.get(),
                  dates.isEmpty() ? "" : " or a captured date: " + String.join(", ", dates)));
    }
    return told;
  }

  private Optional<String> hour() {
    if (files.captureNames().contains(HOUR)) {
      return Optional.of(HOUR);
    }
    section.problem(
        "every",
        "a captured date has no hour: capture {hour:integer} too, or write period-from: arrival");
    return Optional.empty();
  }
}
