package dev.dusky.core.feed;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Optional;

/**
 * The first day whose files a feed takes, detected by a date that its pattern captures from paths.
 *
 * @param capture the name of the captured date
 * @param day the day, if it is fixed
 * @param days how many days back from today, in UTC, if it moves
 */
public record Since(String capture, Optional<LocalDate> day, int days) {

  /** The first day, seen from that moment. */
  public LocalDate first(Instant now) {
    return day.orElseGet(() -> now.atOffset(ZoneOffset.UTC).toLocalDate().minusDays(days));
  }
}
