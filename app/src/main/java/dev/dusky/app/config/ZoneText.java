package dev.dusky.app.config;

import java.time.DateTimeException;
import java.time.ZoneId;
import java.time.ZoneOffset;

/** Reads the time zone under the key {@code zone}. */
final class ZoneText {

  private ZoneText() {}

  /** The zone; UTC if none is given. */
  static ZoneId read(Section section) {
    String text = section.text("zone").orElse("UTC");
    try {
      return ZoneId.of(text);
    } catch (DateTimeException e) {
      section.problem(
          "zone", "'%s' is not a time zone; write one such as Europe/Vienna".formatted(text));
      return ZoneOffset.UTC;
    }
  }
}
