package dev.dusky.core.draft;

import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Dates in the paths of files: what is in a file of the 2nd of March happened around that day. */
final class PathDates {

  private static final Pattern DATE = Pattern.compile("(\\d{4})-?(\\d{2})-?(\\d{2})");
  private static final Pattern TWO_NUMBERS =
      Pattern.compile("(\\d{1,2})[/.-](\\d{1,2})[/.-](\\d{4}).*");

  private PathDates() {}

  static Set<LocalDate> of(List<FileSample> samples) {
    Set<LocalDate> dates = new HashSet<>();
    for (FileSample sample : samples) {
      Matcher date = DATE.matcher(sample.file().path());
      if (date.find()) {
        day(date.group(1), date.group(2), date.group(3)).ifPresent(dates::add);
      }
    }
    return dates;
  }

  private static Optional<LocalDate> day(String year, String month, String day) {
    try {
      return Optional.of(
          LocalDate.of(Integer.parseInt(year), Integer.parseInt(month), Integer.parseInt(day)));
    } catch (DateTimeException e) {
      return Optional.empty(); // digits without a date are not evidence
    }
  }

  /** Whether the day comes first: then more of the dates are near those of the paths. */
  static Optional<Boolean> dayFirst(Set<LocalDate> dates, List<List<String>> columns) {
    int first = 0;
    int second = 0;
    for (List<String> values : columns) {
      for (String value : values.subList(0, Math.min(values.size(), 500))) {
        Matcher numbers = TWO_NUMBERS.matcher(value);
        if (!dates.isEmpty() && numbers.matches()) {
          first += near(dates, day(numbers.group(3), numbers.group(2), numbers.group(1)));
          second += near(dates, day(numbers.group(3), numbers.group(1), numbers.group(2)));
        }
      }
    }
    return first > 2 * second
        ? Optional.of(true)
        : second > 2 * first ? Optional.of(false) : Optional.empty();
  }

  private static int near(Set<LocalDate> dates, Optional<LocalDate> day) {
    return day.isPresent()
            && dates.stream().anyMatch(d -> Math.abs(d.toEpochDay() - day.get().toEpochDay()) <= 1)
        ? 1
        : 0;
  }
}
