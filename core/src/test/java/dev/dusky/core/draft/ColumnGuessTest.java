package dev.dusky.core.draft;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ColumnGuessTest {

  private static ColumnGuess guess(String values) {
    return ColumnGuess.of(List.of(values.split(" ; ")), Optional.empty());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '~',
      value = {
        "1 ; 22 ; 333 ~ smallint ~ ''",
        "1 ; 22 ; 33333 ~ integer ~ ''",
        "-5 ; 0 ; 7 ~ smallint ~ ''",
        "4000000000 ; 1 ~ bigint ~ ''",
        "480000 ; 480001 ~ integer ~ ''",
        "0042 ; 0043 ; 0999 ~ varchar(8) ~ ''",
        "+4930123456 ; +4930999999 ~ varchar(20) ~ ''",
        "030123456 ; 030999999 ~ varchar(16) ~ ''",
        "1E5 ; 2E7 ; 9E1 ~ varchar(8) ~ ''",
        "1.5E10 ; 2.25E-3 ~ double precision ~ ''",
        "12.5 ; 3.25 ; 7 ~ decimal(6,2) ~ ''",
        "-0.5 ; 12 ~ decimal(5,1) ~ ''",
        "12,5 ; 3,25 ~ decimal(6,2) ~ ''",
        "1.234,50 ; 12,75 ~ decimal(8,2) ~ ''",
        "1,234.50 ; 12.75 ~ decimal(8,2) ~ ''",
        "1,234 ; 12,345 ; 999 ~ integer ~ ''",
        "1'234.50 ; 12.75 ~ decimal(8,2) ~ ''",
        "true ; false ~ boolean ~ ''",
        "TRUE ; FALSE ~ boolean ~ TRUE/FALSE",
        "yes ; no ; yes ~ boolean ~ yes/no",
        "Y ; N ; N ~ boolean ~ Y/N",
        "J ; N ~ boolean ~ J/N",
        "ja ; nein ~ boolean ~ ja/nein",
        "t ; f ~ boolean ~ t/f",
        "oui ; non ~ boolean ~ oui/non",
        "0 ; 1 ; 1 ~ smallint ~ ''",
        "2026-03-02 ; 2026-12-31 ~ date ~ ''",
        "02/03/2026 ; 31/12/2026 ~ date ~ dd/MM/yyyy",
        "03/02/2026 ; 12/31/2026 ~ date ~ MM/dd/yyyy",
        "02.03.2026 ; 31.12.2026 ~ date ~ dd.MM.yyyy",
        "2.3.2026 ; 31.12.2026 ~ date ~ d.M.yyyy",
        "2026/03/02 ; 2026/12/31 ~ date ~ yyyy/MM/dd",
        "20260302 ; 20261231 ; 20250101 ~ date ~ yyyyMMdd",
        "20260302 ; 99999999 ; 12 ~ integer ~ ''",
        "02 Mar 2026 ; 31 Dec 2026 ~ date ~ dd MMM yyyy",
        "02-Mar-2026 ; 31-Dec-2026 ~ date ~ dd-MMM-yyyy",
        "2026-03-02 06:15:00 ; 2026-03-02 07:15:00.5 ~ timestamp ~ ''",
        "2026-03-02T06:15:00Z ; 2026-03-02T07:15:00+02:00 ~ timestamp with time zone ~ ''",
        "31/12/2026 06:15 ; 01/01/2026 07:15 ~ timestamp ~ dd/MM/yyyy HH:mm",
        "12/31/2026 06:15:30 ; 01/01/2026 07:15:00 ~ timestamp ~ MM/dd/yyyy HH:mm:ss",
        "06:15 ; 23:59 ~ time ~ ''",
        "06:15:30 ; 23:59:59 ~ time ~ ''",
        "a0eebc99-9c0b-4ef8-bb6d-6bb9bd380a11 ; 00000000-0000-0000-0000-000000000001 ~ uuid ~ ''",
        "{\"a\":1} ; [1,2] ~ json ~ ''",
        "WF0001 ; WF0002 ~ varchar(12) ~ ''",
        "a ; bb ; a much longer text than the others are ~ varchar(60) ~ ''",
        "12 ; x ~ varchar(4) ~ ''",
        "2026-02-30 ; 2026-01-01 ~ varchar(16) ~ ''"
      })
  void findsTheType(String values, String type, String pattern) {
    ColumnGuess guess = guess(values);
    assertEquals(type, guess.type().toString(), guess.because());
    assertEquals(pattern, guess.pattern().orElse(""), guess.because());
  }

  @Test
  void marksInNumbersAreTold() {
    assertEquals(',', guess("12,5 ; 3,25").marks().decimal());
    assertEquals(".", guess("1.234,50 ; 12,75").marks().group());
    assertEquals(",", guess("1,234.50 ; 12.75").marks().group());
    assertEquals("'", guess("1'234.50 ; 12.75").marks().group());
  }

  @Test
  void anAmbiguousDateIsTold() {
    ColumnGuess guess = guess("02/03/2026 ; 05/06/2026");
    assertTrue(guess.doubtful());
    assertTrue(guess.because().contains("no day above 12"), guess.because());
    assertEquals(Optional.empty(), guess.dayFirst());
    assertEquals(Optional.of(true), guess("02/03/2026 ; 15/06/2026").dayFirst());
    assertEquals(Optional.of(false), guess("02/03/2026 ; 05/16/2026").dayFirst());
    ColumnGuess decided = ColumnGuess.of(List.of("02/03/2026", "05/06/2026"), Optional.of(false));
    assertEquals(Optional.of("MM/dd/yyyy"), decided.pattern());
    assertFalse(decided.doubtful());
  }

  @Test
  void aFewBadValuesDoNotSpoilAColumn() {
    List<String> values = new ArrayList<>();
    for (int i = 0; i < 4_000; i++) {
      values.add(Integer.toString(i));
    }
    values.set(77, "8l2");
    assertEquals("integer", ColumnGuess.of(values, Optional.empty()).type().toString());
    for (int i = 0; i < 40; i++) {
      values.set(100 + i, "bad");
    }
    assertTrue(ColumnGuess.of(values, Optional.empty()).type().kind().isText());
  }

  @ParameterizedTest
  @CsvSource({
    "#.5,       8l2.5,      2, decimal",
    "#.5,       8l2.5,      9, varchar",
    "#,         A12,        1, smallint",
    "#,         A12,        2, varchar",
    "2026-03-04,2026-02-31, 4, date",
    "2026-03-04,2026-02-31, 9, varchar"
  })
  void fractionsAndDatesBearMoreMisreadingsThanCodesOfDigits(
      String form, String odd, int times, String type) {
    List<String> values = new ArrayList<>();
    for (int i = 0; i < 2_000; i++) {
      values.add(i % 400 == 7 && i / 400 < times ? odd : form.replace("#", "" + (100 + i % 90)));
    }
    for (int more = 5; more < times; more++) {
      values.set(more * 11, odd);
    }
    String guessed = ColumnGuess.of(values, Optional.empty()).type().toString();
    assertTrue(guessed.startsWith(type), guessed);
  }

  @Test
  void aColumnWithoutValuesIsText() {
    ColumnGuess guess = ColumnGuess.of(List.of(), Optional.empty());
    assertEquals("text", guess.type().toString());
    assertTrue(guess.doubtful());
  }

  @Test
  void lengthsHaveRoomToSpare() {
    assertEquals(4, ColumnGuess.roomy(1));
    assertEquals(8, ColumnGuess.roomy(3));
    assertEquals(12, ColumnGuess.roomy(6));
    assertEquals(20, ColumnGuess.roomy(11));
    assertEquals(2000, ColumnGuess.roomy(900));
  }
}
