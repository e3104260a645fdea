package dev.dusky.core.type;

import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.zone.ZoneRules;
import java.util.List;

/**
 * Reads dates, times and timestamps as numbers: days since 1970-01-01 for a date, microseconds of
 * the day for a time, microseconds since 1970-01-01T00:00 for a timestamp (in UTC for one with time
 * zone). Hot.
 */
public final class TemporalText {

  private static final long MICROS_PER_SECOND = 1_000_000L;
  private static final long SECONDS_PER_DAY = 86_400L;

  private final TypeKind kind;
  private final TemporalPattern pattern;
  private final ZoneRules zone;
  private final boolean fast;
  private final TemporalFields fields = new TemporalFields();
  private String failure;

  /**
   * A reader for a kind of date or time.
   *
   * @param pattern the pattern of the text, or null for ISO 8601
   * @param zone the zone of texts without an offset, or null if they must have one; only for
   *     timestamps with time zone
   */
  public TemporalText(TypeKind kind, TemporalPattern pattern, ZoneId zone) {
    this.kind = kind;
    this.pattern = pattern;
    this.zone = zone == null ? null : zone.getRules();
    this.fast = kind == TypeKind.TIMESTAMP && pattern == null;
  }

  /** The value of {@code b[start, end)}; check {@link #failure} before using it. */
  public long parse(byte[] b, int start, int end) {
    failure = null;
    if (fast && end - start == 19) {
      long value = IsoTemporal.timestamp(b, start);
      if (value != Long.MIN_VALUE) {
        return value;
      }
    }
    fields.clear();
    boolean matched =
        pattern == null
            ? IsoTemporal.parse(kind, fields, b, start, end)
            : pattern.parse(fields, b, start, end);
    if (!matched) {
      failure =
          pattern == null
              ? "is not an ISO 8601 " + kind.sql()
              : "does not have the form " + pattern;
      return 0;
    }
    if (kind != TypeKind.TIME && !CivilDate.exists(fields.year, fields.month, fields.day)) {
      failure = "names a day that does not exist";
      return 0;
    }
    if (fields.hour > 23 || fields.minute > 59 || fields.second > 59) {
      failure = "names a time of day that does not exist";
      return 0;
    }
    if (fields.nanos % 1000 != 0) {
      failure = "has more than six decimals of a second";
      return 0;
    }
    long seconds = fields.hour * 3600L + fields.minute * 60L + fields.second;
    return switch (kind) {
      case DATE -> CivilDate.epochDay(fields.year, fields.month, fields.day);
      case TIME -> seconds * MICROS_PER_SECOND + fields.nanos / 1000;
      default -> timestamp(seconds);
    };
  }

  private long timestamp(long secondOfDay) {
    long days = CivilDate.epochDay(fields.year, fields.month, fields.day);
    long second = days * SECONDS_PER_DAY + secondOfDay;
    if (kind == TypeKind.TIMESTAMP_TZ) {
      second -= offset(second);
    } else if (fields.offset != TemporalFields.NO_OFFSET) {
      failure = "has an offset, which a timestamp without time zone cannot keep";
    }
    return second * MICROS_PER_SECOND + fields.nanos / 1000;
  }

  private int offset(long localSecond) {
    if (fields.offset != TemporalFields.NO_OFFSET) {
      return fields.offset;
    }
    if (zone == null) {
      failure = "has no offset, and the column declares no zone";
      return 0;
    }
    List<ZoneOffset> offsets =
        zone.getValidOffsets(java.time.LocalDateTime.ofEpochSecond(localSecond, 0, ZoneOffset.UTC));
    if (offsets.size() != 1) {
      failure =
          offsets.isEmpty()
              ? "is in the hour that the zone skips"
              : "is in the hour that the zone repeats";
      return 0;
    }
    return offsets.get(0).getTotalSeconds();
  }

  /** Why the last value could not be read, as the end of a sentence, or null. */
  public String failure() {
    return failure;
  }
}
