package dev.dusky.core.type;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class TemporalTextTest {

  private static TemporalText iso(TypeKind kind) {
    return new TemporalText(kind, null, null);
  }

  private static TemporalText pattern(TypeKind kind, String pattern) {
    return new TemporalText(kind, TemporalPattern.of(pattern), null);
  }

  private static long parse(TemporalText reader, String text) {
    byte[] b = ("12345678" + text + "12345678").getBytes(StandardCharsets.UTF_8);
    return reader.parse(b, 8, b.length - 8);
  }

  private static long micros(LocalDateTime moment) {
    return moment.toEpochSecond(ZoneOffset.UTC) * 1_000_000 + moment.getNano() / 1000;
  }

  @Test
  void everyDayOfTenThousandYearsIsRead() {
    TemporalText reader = iso(TypeKind.DATE);
    for (LocalDate day = LocalDate.of(1, 1, 1);
        day.getYear() < 10_000;
        day = day.plusDays(day.getYear() > 1890 && day.getYear() < 2110 ? 1 : 97)) {
      assertEquals(day.toEpochDay(), parse(reader, day.toString()));
      assertNull(reader.failure());
    }
  }

  @Test
  void timestampsInTheCommonFormsAreRead() {
    TemporalText reader = iso(TypeKind.TIMESTAMP);
    Random random = new Random(4);
    for (int i = 0; i < 20_000; i++) {
      LocalDateTime moment =
          LocalDateTime.ofEpochSecond(
              random.nextInt() * 20L, random.nextInt(1_000_000) * 1000, ZoneOffset.UTC);
      LocalDateTime whole = moment.withNano(0);
      assertEquals(micros(moment), parse(reader, moment.toString()), moment::toString);
      assertEquals(
          micros(whole),
          parse(reader, whole.format(DateTimeFormatter.ofPattern("uuuu-MM-dd HH:mm:ss"))),
          whole::toString);
    }
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "2026-02-29",
        "2026-13-01",
        "2026-00-10",
        "0000-01-01",
        "2026-1-1",
        "26-01-01",
        "2026/01/01",
        "2026-01-01x",
        "",
        "2026-04-31",
        "1900-02-29"
      })
  void daysThatDoNotExistAreTold(String text) {
    TemporalText reader = iso(TypeKind.DATE);
    parse(reader, text);
    assertNotNull(reader.failure());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "2026-01-01 24:00:00",
        "2026-01-01 12:60:00",
        "2026-01-01 12:00:60",
        "2026-01-01x12:00:00",
        "2026-01-01 12:00:00.1234567",
        "2026-01-01 12:00:00+01:00",
        "2026-01-01 1a:00:00",
        "2026-01-01",
        "2026-02-30 12:00:00",
        "2026-01-01 12:00:00 ",
        "2026-01-01 12:00:00."
      })
  void momentsThatDoNotExistAreTold(String text) {
    TemporalText reader = iso(TypeKind.TIMESTAMP);
    parse(reader, text);
    assertNotNull(reader.failure(), text);
  }

  @Test
  void timesOfDayAreRead() {
    TemporalText reader = iso(TypeKind.TIME);
    assertEquals(LocalTime.of(6, 30).toNanoOfDay() / 1000, parse(reader, "06:30"));
    assertEquals(
        LocalTime.of(23, 59, 59, 250_000_000).toNanoOfDay() / 1000, parse(reader, "23:59:59.25"));
    parse(reader, "6:30");
    assertNotNull(reader.failure());
  }

  @ParameterizedTest
  @CsvSource({
    "2026-03-01T12:00:00Z, 2026-03-01T12:00", "2026-03-01 12:00:00+02:00, 2026-03-01T10:00",
    "2026-03-01 12:00:00-0330, 2026-03-01T15:30", "2026-03-01 12:00+01, 2026-03-01T11:00"
  })
  void offsetsAreTakenIntoAccount(String text, LocalDateTime utc) {
    TemporalText reader = iso(TypeKind.TIMESTAMP_TZ);
    assertEquals(micros(utc), parse(reader, text));
    assertNull(reader.failure());
  }

  @Test
  void noZoneIsEverAssumed() {
    TemporalText reader = iso(TypeKind.TIMESTAMP_TZ);
    parse(reader, "2026-03-01 12:00:00");
    assertTrue(reader.failure().contains("has no offset"));
  }

  @Test
  void aDeclaredZoneIsUsedAndItsGapsAreTold() {
    TemporalText reader =
        new TemporalText(TypeKind.TIMESTAMP_TZ, null, ZoneId.of("Europe/Amsterdam"));
    assertEquals(micros(LocalDateTime.of(2026, 7, 1, 10, 0)), parse(reader, "2026-07-01 12:00:00"));
    parse(reader, "2026-03-29 02:30:00");
    assertTrue(reader.failure().contains("skips"));
    parse(reader, "2026-10-25 02:30:00");
    assertTrue(reader.failure().contains("repeats"));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '~',
      value = {
        "dd/MM/yyyy HH:mm ~ 02/03/2026 05:46 ~ 2026-03-02T05:46",
        "d.M.uuuu H:mm:ss ~ 2.3.2026 5:46:07 ~ 2026-03-02T05:46:07",
        "yyyyMMddHHmmss ~ 20260302054607 ~ 2026-03-02T05:46:07",
        "yyyy-MM-dd'T'HH:mm:ss.SSS ~ 2026-03-02T05:46:07.125 ~ 2026-03-02T05:46:07.125",
        "d MMM yyyy HH:mm ~ 2 Mar 2026 05:46 ~ 2026-03-02T05:46",
        "dd-MMMM-yyyy hh:mm a ~ 02-March-2026 05:46 PM ~ 2026-03-02T17:46"
      })
  void patternsAreFollowed(String pattern, String text, LocalDateTime moment) {
    TemporalText reader = pattern(TypeKind.TIMESTAMP, pattern);
    assertEquals(micros(moment), parse(reader, text));
    assertNull(reader.failure());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '~',
      value = {
        "dd/MM/yyyy ~ 31/02/2026", "dd/MM/yyyy ~ 1/02/2026", "dd/MM/yyyy ~ 01/02/26",
        "dd/MM/yyyy ~ '01/02/2026 '", "d MMM yyyy ~ 31 Feb 2026", "d MMM yyyy ~ 1 März 2026"
      })
  void textsOfAnotherFormAreTold(String pattern, String text) {
    TemporalText reader = pattern(TypeKind.DATE, pattern);
    parse(reader, text);
    assertNotNull(reader.failure());
  }

  @Test
  void aYearOfTwoDigitsIsRefusedAsAGuess() {
    Exception e =
        assertThrows(IllegalArgumentException.class, () -> TemporalPattern.of("dd/MM/yy"));
    assertTrue(e.getMessage().contains("century"));
  }

  @Test
  void aPatternThatIsNoneIsRefused() {
    assertThrows(IllegalArgumentException.class, () -> TemporalPattern.of("yyyy-bb"));
  }
}
