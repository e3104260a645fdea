package dev.dusky.core.expect;

import java.time.DayOfWeek;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * When files of a feed are expected.
 *
 * @param every the period
 * @param dueDays how many days after the beginning of a period its files are due
 * @param by the time of that day; for hours how long after the hour's beginning
 * @param zone the time zone
 * @param files how many files each period has
 * @param orMore whether it may have more
 * @param days the days of the week on which files are expected; all for weeks and months
 * @param except days without files; periods of hours and days only
 * @param from the first day; if it is not given, the day of the first file
 * @param day the capture of the path that is the day; if it is not given, the time of arrival
 * @param hour the capture that is the hour of that day
 */
public record Timetable(
    Every every,
    int dueDays,
    LocalTime by,
    ZoneId zone,
    int files,
    boolean orMore,
    Set<DayOfWeek> days,
    Set<LocalDate> except,
    Optional<LocalDate> from,
    Optional<String> day,
    Optional<String> hour) {

  /** The longest that files of a period may be due after its beginning, in days. */
  public static final int MOST_DUE_DAYS = 62;

  public Timetable {
    days = Set.copyOf(days);
    except = Set.copyOf(except);
  }

  /** Whether files are expected for the period that begins then. */
  public boolean expects(ZonedDateTime begin) {
    boolean daily = every == Every.DAY || every == Every.HOUR;
    LocalDate date = begin.toLocalDate();
    return !daily || days.contains(date.getDayOfWeek()) && !except.contains(date);
  }

  /** When the files of the period are due. A time that the clock skips is due when it runs on. */
  public Instant due(ZonedDateTime begin) {
    return every == Every.HOUR
        ? begin.plusDays(dueDays).toInstant().plusSeconds(by.toSecondOfDay())
        : begin.toLocalDate().plusDays(dueDays).atTime(by).atZone(zone).toInstant();
  }

  /** As declared. */
  @Override
  public String toString() {
    return "every %s by %s%s in %s, %d%s files, %s%s%s"
        .formatted(
            every.label(),
            dueDays == 0 ? "" : dueDays + " days ",
            by,
            zone,
            files,
            orMore ? " or more" : "",
            days.size() == 7 ? "all days" : new TreeSet<>(days),
            except.isEmpty() ? "" : " except " + new TreeSet<>(except),
            from.map(f -> " from " + f).orElse(""));
  }
}
