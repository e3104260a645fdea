package dev.dusky.core.type;

/** The parts of a date or time while it is read. */
final class TemporalFields {

  static final int NO_OFFSET = Integer.MIN_VALUE;

  int year;
  int month;
  int day;
  int hour;
  int minute;
  int second;
  int nanos;
  int offset;

  void clear() {
    year = 0;
    month = 1;
    day = 1;
    hour = 0;
    minute = 0;
    second = 0;
    nanos = 0;
    offset = NO_OFFSET;
  }
}
