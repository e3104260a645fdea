package dev.dusky.core.expect;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.expect.Expected.Verdict;
import java.time.DayOfWeek;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** Files that came, compared with a timetable. */
class AttendanceTest {

  private static final ZoneId VIENNA = ZoneId.of("Europe/Vienna");
  private static final Instant START = Instant.parse("2026-03-01T00:00:00Z");

  private static Timetable timetable(Every every, int dueDays, String by, ZoneId zone, int files) {
    return new Timetable(
        every,
        dueDays,
        LocalTime.parse(by),
        zone,
        files,
        false,
        EnumSet.allOf(DayOfWeek.class),
        Set.of(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty());
  }

  private static Timetable onDays(Timetable t, Set<DayOfWeek> days, LocalDate except) {
    return new Timetable(
        t.every(),
        t.dueDays(),
        t.by(),
        t.zone(),
        t.files(),
        t.orMore(),
        days,
        Set.of(except),
        Optional.of(LocalDate.of(2026, 3, 2)),
        Optional.of("day"),
        t.hour());
  }

  private static Came came(String path, String at) {
    return new Came(path, Map.of(), Instant.parse(at));
  }

  private static List<String> verdicts(List<Expected> periods) {
    return periods.stream().map(p -> p.period() + " " + p.verdict().label()).toList();
  }

  /** Random arrivals over twenty days, judged one day after the other. */
  @Test
  void agreesWithCountingByHand() {
    Random random = new Random(19);
    for (int round = 0; round < 200; round++) {
      int files = 1 + random.nextInt(3);
      Timetable timetable = timetable(Every.DAY, 0, "07:30", ZoneOffset.UTC, files);
      Attendance attendance = new Attendance(timetable, START);
      Map<Integer, List<Integer>> minutes = new HashMap<>();
      for (int file = 0; file < 40; file++) {
        int day = random.nextInt(20);
        int minute = random.nextInt(15 * 60);
        minutes.computeIfAbsent(day, d -> new ArrayList<>()).add(minute);
        Instant at = START.plusSeconds(day * 86_400L + minute * 60L);
        attendance.add(new Came("f" + file, Map.of(), at.plusSeconds(50_000))); // a correction
        attendance.add(new Came("f" + file, Map.of(), at));
      }
      int first = minutes.keySet().stream().min(Integer::compareTo).orElseThrow();
      int hours = 20 * 24 - random.nextInt(40);
      List<Expected> periods = attendance.expected(START.plusSeconds(hours * 3600L));
      int day = first;
      for (Expected period : periods) {
        List<Integer> there = minutes.getOrDefault(day, List.of());
        long inTime = there.stream().filter(m -> m <= 450).count();
        boolean due = hours * 60 > day * 24 * 60 + 450;
        Verdict verdict =
            there.size() > files
                ? Verdict.TOO_MANY
                : there.size() < files
                    ? due ? Verdict.MISSING : Verdict.AHEAD
                    : inTime < files ? Verdict.LATE : Verdict.WHOLE;
        assertEquals(verdict, period.verdict(), "round " + round + ", " + period);
        assertEquals(there.size(), period.came(), period.toString());
        day++;
      }
      assertEquals(Math.max(first, hours / 24 + 1), day, "all days are judged");
    }
  }

  @Test
  void hoursFollowTheClockWhereItIsMoved() {
    Timetable hourly = timetable(Every.HOUR, 0, "00:20", VIENNA, 1);
    for (Map.Entry<String, Integer> day :
        Map.of("2026-03-29", 23, "2026-10-25", 25, "2026-06-01", 24).entrySet()) {
      Instant begin = LocalDate.parse(day.getKey()).atStartOfDay(VIENNA).toInstant();
      Attendance attendance = new Attendance(hourly, begin);
      attendance.begun(begin.minusSeconds(90_000));
      Instant end = LocalDate.parse(day.getKey()).plusDays(1).atStartOfDay(VIENNA).toInstant();
      assertEquals(day.getValue(), attendance.expected(end.minusSeconds(1)).size(), day.toString());
    }
  }

  @Test
  void aTimeThatTheClockSkipsIsDueWhenItRunsOn() {
    Timetable daily = timetable(Every.DAY, 0, "02:30", VIENNA, 1);
    assertEquals(
        Instant.parse("2026-03-29T01:30:00Z"),
        daily.due(LocalDate.of(2026, 3, 29).atStartOfDay(VIENNA)));
  }

  @Test
  void weekendsAndHolidaysAreNotExpected() {
    Timetable weekdays =
        onDays(
            timetable(Every.DAY, 1, "06:00", ZoneOffset.UTC, 1),
            EnumSet.range(DayOfWeek.MONDAY, DayOfWeek.FRIDAY),
            LocalDate.of(2026, 3, 4));
    Attendance attendance = new Attendance(weekdays, START);
    attendance.add(
        new Came("a", Map.of("day", "2026-03-03"), Instant.parse("2026-03-04T05:00:00Z")));
    attendance.add(
        new Came("b", Map.of("day", "2026-03-05"), Instant.parse("2026-03-06T09:00:00Z")));
    attendance.add(
        new Came("c", Map.of("day", "2026-02-30"), Instant.parse("2026-03-06T09:00:00Z")));
    assertEquals(
        List.of(
            "2026-03-02 missing",
            "2026-03-03 whole",
            "2026-03-05 late",
            "2026-03-06 missing",
            "2026-03-09 ahead"),
        verdicts(attendance.expected(Instant.parse("2026-03-09T08:00:00Z"))));
  }

  @Test
  void weeksAndMonthsHaveTheirOwnDays() {
    Attendance weeks = new Attendance(timetable(Every.WEEK, 7, "09:00", ZoneOffset.UTC, 1), START);
    weeks.add(came("w", "2026-03-05T10:00:00Z"));
    assertEquals(
        List.of("week of 2026-03-02 whole", "week of 2026-03-09 ahead"),
        verdicts(weeks.expected(Instant.parse("2026-03-16T08:59:00Z").minusSeconds(86_400))));
    Attendance months =
        new Attendance(timetable(Every.MONTH, 4, "09:00", ZoneOffset.UTC, 2), START);
    months.add(came("m", "2026-03-05T09:00:01Z"));
    months.add(came("n", "2026-03-04T09:00:00Z"));
    assertEquals(
        List.of("2026-03 late", "2026-04 missing"),
        verdicts(months.expected(Instant.parse("2026-04-05T09:00:01Z"))));
  }

  @Test
  void nothingIsExpectedBeforeTheFirstFile() {
    Timetable daily = timetable(Every.DAY, 0, "07:30", ZoneOffset.UTC, 1);
    Attendance attendance = new Attendance(daily, START);
    assertTrue(attendance.expected(Instant.parse("2026-03-20T12:00:00Z")).isEmpty());
    attendance.add(came("a", "2026-03-18T06:00:00Z"));
    assertEquals(
        List.of("2026-03-18 whole", "2026-03-19 missing", "2026-03-20 missing"),
        verdicts(attendance.expected(Instant.parse("2026-03-20T12:00:00Z"))));
    attendance.add(came("archived", "2026-02-01T06:00:00Z"));
    assertEquals(20, attendance.expected(Instant.parse("2026-03-20T12:00:00Z")).size());
  }
}
