package dev.dusky.core.expect;

import java.time.DayOfWeek;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoUnit;
import java.time.temporal.TemporalAdjusters;
import java.util.Locale;

/** How often files are expected. Weeks begin on Monday (ISO 8601). */
public enum Every {
  /** Each hour of the clock; an hour that the clock repeats is expected twice. */
  HOUR("uuuu-MM-dd HH:00"),
  /** Each day. */
  DAY("uuuu-MM-dd"),
  /** Each week. */
  WEEK("'week of' uuuu-MM-dd"),
  /** Each month. */
  MONTH("uuuu-MM");

  private final DateTimeFormatter form;

  Every(String form) {
    this.form = DateTimeFormatter.ofPattern(form, Locale.ROOT);
  }

  /** The beginning of the period that a moment lies in. */
  public ZonedDateTime begin(ZonedDateTime moment) {
    if (this == HOUR) {
      return moment.truncatedTo(ChronoUnit.HOURS);
    }
    ZonedDateTime day = moment.toLocalDate().atStartOfDay(moment.getZone());
    return switch (this) {
      case WEEK ->
          moment
              .toLocalDate()
              .with(TemporalAdjusters.previousOrSame(DayOfWeek.MONDAY))
              .atStartOfDay(moment.getZone());
      case MONTH -> moment.toLocalDate().withDayOfMonth(1).atStartOfDay(moment.getZone());
      default -> day;
    };
  }

  /** The beginning of the period after the one that begins then. */
  public ZonedDateTime next(ZonedDateTime begin) {
    if (this == HOUR) {
      return begin.plusHours(1);
    }
    ZonedDateTime next =
        switch (this) {
          case WEEK -> begin.plusWeeks(1);
          case MONTH -> begin.plusMonths(1);
          default -> begin.plusDays(1);
        };
    return next.toLocalDate().atStartOfDay(begin.getZone());
  }

  /** A period as people write it. */
  public String text(ZonedDateTime begin) {
    return form.format(begin);
  }

  /** The word in a configuration. */
  public String label() {
    return name().toLowerCase(Locale.ROOT);
  }
}
