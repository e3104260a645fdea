package dev.dusky.app.figures;

import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Locale;

/** Moments as people read them, always in UTC. */
public final class Moments {

  private static final DateTimeFormatter MINUTE =
      DateTimeFormatter.ofPattern("uuuu-MM-dd HH:mm", Locale.ROOT).withZone(ZoneOffset.UTC);

  private Moments() {}

  /** To the minute. */
  public static String minute(Instant moment) {
    return MINUTE.format(moment);
  }
}
