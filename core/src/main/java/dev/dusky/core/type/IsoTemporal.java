package dev.dusky.core.type;

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
    return tens >= 0 && tens <= 9 && ones >= 0 && ones <= 9 ? tens * 10 + ones : -1;
  }
}
