package dev.dusky.core.type;

import dev.dusky.core.bytes.ByteWords;

/**
 * ISO 8601 in the forms that SQL literals take: {@code 2026-03-01}, {@code 06:30[:15[.250000]]},
 * both with a blank or T between, and an offset as Z, +01, +0100 or +01:00. Hot.
 */
final class IsoTemporal {

  private IsoTemporal() {}

  static boolean parse(TypeKind kind, TemporalFields f, byte[] b, int start, int end) {
    int at = start;
    if (kind != TypeKind.TIME) {
      at = date(f, b, start, end);
      if (at < 0 || kind == TypeKind.DATE) {
        return at == end;
      }
      if (at >= end || b[at] != ' ' && b[at] != 'T') {
        return false;
      }
      at++;
    }
    at = time(f, b, at, end);
    if (at < 0 || at == end || kind == TypeKind.TIME) {
      return at == end;
    }
    return offset(f, b, b[at] == ' ' ? at + 1 : at, end) == end;
  }

  /**
   * The microseconds since 1970 of {@code uuuu-MM-dd HH:mm:ss}, the commonest form, or {@link
   * Long#MIN_VALUE} if the 19 bytes do not have it or name no moment. Date and time are each
   * brought into one word of eight digits.
   */
  static long timestamp(byte[] b, int at) {
    long first = ByteWords.at(b, at);
    long second = ByteWords.at(b, at + 8);
    long between = second >>> 16 & 0xff;
    if ((first & 0xff0000ff00000000L) != 0x2d00002d00000000L
        || (second & 0x0000ff0000000000L) != 0x00003a0000000000L
        || between != ' ' && between != 'T'
        || b[at + 16] != ':') {
      return Long.MIN_VALUE;
    }
    long date = first & 0xffffffffL | first >>> 8 & 0xffff00000000L | second << 48;
    long time =
        0x3030L
            | (second >>> 24 & 0xffff) << 16
            | (second >>> 48) << 32
            | (b[at + 17] & 0xffL) << 48
            | (b[at + 18] & 0xffL) << 56;
    if (!ByteWords.areDigits(date) || !ByteWords.areDigits(time)) {
      return Long.MIN_VALUE;
    }
    int ymd = (int) ByteWords.number(date);
    int hms = (int) ByteWords.number(time);
    int year = ymd / 10_000;
    int month = ymd / 100 - year * 100;
    int day = ymd % 100;
    int hour = hms / 10_000;
    int minute = hms / 100 - hour * 100;
    int seconds = hms % 100;
    if (hour > 23 || minute > 59 || seconds > 59 || !CivilDate.exists(year, month, day)) {
      return Long.MIN_VALUE;
    }
    long days = CivilDate.epochDay(year, month, day);
    return (days * 86_400 + hour * 3600 + minute * 60 + seconds) * 1_000_000;
  }

  private static int date(TemporalFields f, byte[] b, int at, int end) {
    if (end - at < 10 || b[at + 4] != '-' || b[at + 7] != '-') {
      return -1;
    }
    int century = two(b, at);
    int year = two(b, at + 2);
    f.month = two(b, at + 5);
    f.day = two(b, at + 8);
    f.year = century * 100 + year;
    return (century | year | f.month | f.day) < 0 ? -1 : at + 10;
  }

  private static int time(TemporalFields f, byte[] b, int start, int end) {
    if (end - start < 5 || b[start + 2] != ':') {
      return -1;
    }
    f.hour = two(b, start);
    f.minute = two(b, start + 3);
    int at = start + 5;
    if (at < end && b[at] == ':') {
      if (end - at < 3) {
        return -1;
      }
      f.second = two(b, at + 1);
      at += 3;
      if (at < end && b[at] == '.') {
        at = fraction(f, b, at + 1, end);
      }
    }
    return (f.hour | f.minute | f.second) < 0 ? -1 : at;
  }

  /** Reads one to nine decimals of a second; gives the position behind them or -1. */
  static int fraction(TemporalFields f, byte[] b, int start, int end) {
    int at = start;
    int value = 0;
    int unit = 1_000_000_000;
    while (at < end && unit > 1 && b[at] >= '0' && b[at] <= '9') {
      value = value * 10 + b[at] - '0';
      unit /= 10;
      at++;
    }
    f.nanos = value * unit;
    return at == start ? -1 : at;
  }

  /** Reads Z, +hh, +hhmm or +hh:mm; gives the position behind it or -1. */
  static int offset(TemporalFields f, byte[] b, int at, int end) {
    if (at >= end) {
      return -1;
    }
    if (b[at] == 'Z') {
      f.offset = 0;
      return at + 1;
    }
    if (b[at] != '+' && b[at] != '-' || end - at < 3) {
      return -1;
    }
    int hours = two(b, at + 1);
    int minutes = 0;
    int next = at + 3;
    if (next < end && b[next] == ':') {
      next++;
      minutes = next + 2 <= end ? two(b, next) : -1;
      next += 2;
    } else if (next + 2 <= end && digit(b[next])) {
      minutes = two(b, next);
      next += 2;
    }
    if (hours < 0 || hours > 18 || minutes < 0 || minutes > 59) {
      return -1;
    }
    int seconds = hours * 3600 + minutes * 60;
    f.offset = b[at] == '-' ? -seconds : seconds;
    return next;
  }

  private static boolean digit(byte c) {
    return c >= '0' && c <= '9';
  }

  /** Two digits as a number, or a negative one. */
  static int two(byte[] b, int at) {
    int tens = b[at] - '0';
    int ones = b[at + 1] - '0';
    return (tens | ones | 9 - tens | 9 - ones) < 0 ? -1 : tens * 10 + ones;
  }
}
