package dev.dusky.app.config;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.expect.Every;
import dev.dusky.core.expect.Timetable;
import dev.dusky.core.failure.Failure;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.EnumSet;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** When files are expected, as the configuration says it. */
class TimetableTest {

  private static final Set<DayOfWeek> ALL = EnumSet.allOf(DayOfWeek.class);

  @TempDir Path folder;

  private Timetable timetable(String pattern, String arrivals) throws Exception {
    Path file = folder.resolve("dusky.yaml");
    Files.writeString(
        file,
        """
        warehouse: jdbc:h2:file:./warehouse
        depots: { yard: "file:./intake" }
        feeds:
          collections:
            depot: yard
            files: "%s"
            layout: delimited
            into: intake.collection
            columns: { grade: integer }
            expect: { arrivals: { %s } }
        """
            .formatted(pattern, arrivals));
    return Configuration.read(file).timetables().get("collections");
  }

  @Test
  void everyTimetableCanBeSaid() throws Exception {
    assertEquals(
        new Timetable(
            Every.DAY,
            0,
            LocalTime.of(7, 30),
            ZoneId.of("Europe/Vienna"),
            24,
            false,
            EnumSet.range(DayOfWeek.MONDAY, DayOfWeek.FRIDAY),
            Set.of(LocalDate.of(2026, 12, 24), LocalDate.of(2026, 12, 25)),
            Optional.of(LocalDate.of(2026, 3, 1)),
            Optional.of("day"),
            Optional.empty()),
        timetable(
            "c/{day:date}/*.csv",
            "every: day, by: \"07:30\", zone: Europe/Vienna, files: 24, calendar: weekdays,"
                + " except: [2026-12-24, 2026-12-25], from: 2026-03-01"));
    assertEquals(
        new Timetable(
            Every.MONTH,
            4,
            LocalTime.of(9, 0),
            ZoneOffset.UTC,
            1,
            true,
            ALL,
            Set.of(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty()),
        timetable("c/*.csv", "every: month, by: 4 days 09:00, zone: Z, files: 1 or more"));
    Timetable hourly = timetable("c/{day:date}/{hour:integer}.csv", "every: hour, by: \"00:20\"");
    assertEquals(Optional.of("hour"), hourly.hour());
    assertEquals(
        Optional.empty(),
        timetable("c/{day:date}.csv", "every: hour, by: \"00:20\", period-from: arrival").day());
    assertEquals(5, timetable("c/*.csv", "every: weekday, by: \"08:00\"").days().size());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '~',
      quoteCharacter = '`',
      value = {
        "by: '07:30' ~ needs the key every",
        "every: day ~ needs the key by",
        "every: fortnight, by: '07:30' ~ every cannot be 'fortnight'",
        "every: day, by: noon ~ by cannot be 'noon'",
        "every: day, by: '25:00' ~ by cannot be '25:00'",
        "every: day, by: '99 days 07:00' ~ by can be at most 62 days",
        "every: day, by: '07:30', zone: Mars/Olympus ~ 'Mars/Olympus' is not a time zone",
        "every: day, by: '07:30', files: none ~ files cannot be 'none'",
        "every: day, by: '07:30', calendar: lunar ~ calendar cannot be 'lunar'",
        "every: day, by: '07:30', except: [soon] ~ 'soon' is not a day",
        "every: day, by: '07:30', period-from: sender ~ it is arrival or a captured date: day",
        "every: hour, by: '00:20' ~ a captured date has no hour",
        "every: day, by: '07:30', until: 2026-03-01 ~ has no key 'until'",
      })
  void whatIsWrongIsNamed(String lines, String message) {
    Failure failure =
        assertThrows(Failure.class, () -> timetable("c/{day:date}.csv", lines.replace('\'', '"')));
    assertTrue(failure.getMessage().contains(message), failure.getMessage());
  }
}
