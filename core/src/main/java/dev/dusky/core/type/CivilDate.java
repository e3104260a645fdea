package dev.dusky.core.type;

/** Calendar arithmetic on plain numbers, after Howard Hinnant's days_from_civil. */
final class CivilDate {

  private CivilDate() {}

  /** Days since 1970-01-01 of a date of the proleptic Gregorian calendar, from the year 1 on. */
  static long epochDay(int year, int month, int day) {
    int early = month <= 2 ? 1 : 0;
    int y = year - early;
    int era = y / 400;
    int yearOfEra = y - era * 400;
    int dayOfYear = (153 * (month + 12 * early - 3) + 2) / 5 + day - 1;
    int dayOfEra = yearOfEra * 365 + yearOfEra / 4 - yearOfEra / 100 + dayOfYear;
    return era * 146_097L + dayOfEra - 719_468;
  }

  /** Whether such a day exists, in the years 1 to 9999. */
  static boolean exists(int year, int month, int day) {
    return year >= 1
        && year <= 9999
        && month >= 1
        && month <= 12
        && day >= 1
        && (day <= 28 || day <= lengthOfMonth(year, month));
  }

  private static int lengthOfMonth(int year, int month) {
    return switch (month) {
      case 2 -> year % 4 == 0 && (year % 100 != 0 || year % 400 == 0) ? 29 : 28;
      case 4, 6, 9, 11 -> 30;
      default -> 31;
    };
  }
}
