package dev.dusky.core.draft;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.expect.Attendance;
import dev.dusky.core.expect.Came;
import dev.dusky.core.expect.Every;
import dev.dusky.core.expect.Expected;
import dev.dusky.core.expect.Timetable;
import dev.dusky.core.feed.FilePattern;
import java.time.DayOfWeek;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** What the files of a feed suggest about those that will come. */
class HabitGuessTest {

  private static final FilePattern DATED = FilePattern.of("milk/{day:date}/*.csv");
  private static final FilePattern PLAIN = FilePattern.of("milk/*.csv");
  private static final LocalDate MONDAY = LocalDate.parse("2026-03-02");

  private final Random random = new Random(8);

  private StagedFile file(String path, LocalDate day, int minutes, long size) {
    Instant at = day.atStartOfDay(ZoneOffset.UTC).plusMinutes(minutes).toInstant();
    return new StagedFile(path, size, "m", at);
  }

  private List<StagedFile> files(int days, boolean weekends, int each, int latest) {
    List<StagedFile> files = new ArrayList<>();
    for (int i = 0; i < days; i++) {
      LocalDate day = MONDAY.plusDays(i);
      if (weekends || day.getDayOfWeek().getValue() <= 5) {
        for (int n = 0; n < each; n++) {
          int minutes = n == 0 ? latest : random.nextInt(latest);
          files.add(
              file("milk/" + day + "/" + n + ".csv", day, minutes, 1000 + random.nextInt(20)));
        }
      }
    }
    return files;
  }

  /** Every file that suggested a timetable is in time by it, and none of its periods is short. */
  @Test
  void theSuggestedTimetableHoldsForTheFilesThatSuggestedIt() {
    for (int round = 0; round < 12; round++) {
      int days = 7 + random.nextInt(40);
      int each = 1 + random.nextInt(30);
      int latest = 1 + random.nextInt(3000);
      boolean weekends = random.nextBoolean();
      List<StagedFile> files = files(days, weekends, each, latest);
      Timetable found = new HabitGuess(DATED, files).guess().arrivals().orElseThrow();
      assertEquals(Every.DAY, found.every());
      assertEquals(each, found.files());
      assertFalse(found.orMore());
      assertEquals(
          weekends
              ? EnumSet.allOf(DayOfWeek.class)
              : EnumSet.range(DayOfWeek.MONDAY, DayOfWeek.FRIDAY),
          found.days());
      Attendance attendance =
          new Attendance(found, MONDAY.atStartOfDay(ZoneOffset.UTC).toInstant());
      files.forEach(
          f -> attendance.add(new Came(f.path(), DATED.captures(f.path()), f.modified())));
      Instant after = MONDAY.plusDays(days).atStartOfDay(ZoneOffset.UTC).toInstant();
      for (Expected period : attendance.expected(after.minusSeconds(1))) {
        assertTrue(period.verdict() == Expected.Verdict.WHOLE, "round " + round + ": " + period);
      }
      int minutes = found.dueDays() * 1440 + found.by().toSecondOfDay() / 60;
      assertTrue(minutes >= latest + 15 && minutes < latest + 46, latest + " became " + minutes);
    }
  }

  @Test
  void varyingCountsSuggestALeastNumberAndAreMarked() {
    List<StagedFile> files = files(14, true, 3, 60);
    for (int i = 0; i < 5; i++) {
      LocalDate day = MONDAY.plusDays(i);
      files.add(file("milk/" + day + "/more.csv", day, 50, 1000));
    }
    HabitDraft habit = new HabitGuess(DATED, files).guess();
    assertEquals(3, habit.arrivals().orElseThrow().files());
    assertTrue(habit.arrivals().get().orMore());
    assertTrue(habit.evidence().get(0).doubtful());
  }

  @Test
  void weeksAndMonthsAreFoundByTheTimesOfPlainFiles() {
    List<StagedFile> weekly = new ArrayList<>();
    List<StagedFile> monthly = new ArrayList<>();
    for (int i = 0; i < 8; i++) {
      weekly.add(file("milk/w" + i + ".csv", MONDAY.plusWeeks(i).plusDays(1), 400, 10));
      monthly.add(file("milk/m" + i + ".csv", MONDAY.withDayOfMonth(1).plusMonths(i), 90, 10));
    }
    Timetable week = new HabitGuess(PLAIN, weekly).guess().arrivals().orElseThrow();
    assertEquals(Every.WEEK, week.every());
    assertEquals(1, week.dueDays());
    assertEquals(LocalTime.of(7, 0), week.by());
    Timetable month = new HabitGuess(PLAIN, monthly).guess().arrivals().orElseThrow();
    assertEquals(Every.MONTH, month.every());
    assertEquals(LocalTime.of(2, 0), month.by());
  }

  @Test
  void filesThatWereCopiedTogetherOrComeNowAndThenSuggestNothing() {
    List<StagedFile> copied =
        files(20, true, 1, 60).stream()
            .map(
                f -> new StagedFile(f.path(), f.size(), "m", Instant.parse("2026-05-01T09:00:00Z")))
            .toList();
    assertEquals(Optional.empty(), new HabitGuess(DATED, copied).guess().arrivals());
    List<StagedFile> rare = new ArrayList<>();
    for (int i = 0; i < 12; i++) {
      LocalDate day = MONDAY.plusDays(i * i);
      rare.add(file("milk/" + day + "/a.csv", day, 60, 1000));
    }
    assertEquals(Optional.empty(), new HabitGuess(DATED, rare).guess().arrivals());
    assertEquals(Optional.empty(), new HabitGuess(DATED, files(4, true, 1, 60)).guess().arrivals());
  }

  @Test
  void steadySizesSuggestThatOthersAreUnusual() {
    assertTrue(new HabitGuess(DATED, files(20, true, 2, 60)).guess().steady());
    assertFalse(new HabitGuess(DATED, files(10, true, 1, 60)).guess().steady(), "too few");
    List<StagedFile> wild =
        files(20, true, 2, 60).stream()
            .map(f -> new StagedFile(f.path(), 1L << random.nextInt(30), "m", f.modified()))
            .toList();
    assertFalse(new HabitGuess(DATED, wild).guess().steady());
  }
}
