package dev.dusky.core.tally;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class TallyTest {

  @Test
  void balancesWhenEveryRowIsAccountedFor() {
    assertTrue(new Tally(10, 5, 2, 2, 1, 0).balanced());
    assertFalse(new Tally(10, 5, 2, 1, 1, 0).balanced());
    assertTrue(Tally.posted(10, 7, 3, 0).balanced());
    assertFalse(Tally.posted(10, 7, 2, 0).balanced());
    assertTrue(Tally.refused(10, 4, 0).balanced());
    assertEquals(6, Tally.refused(10, 4, 0).withheld());
    assertEquals(10, Tally.twin(10).duplicate());
  }

  @Test
  void addsUp() {
    assertEquals(
        new Tally(30, 7, 10, 7, 0, 6),
        Tally.posted(10, 7, 3, 0).plus(Tally.twin(10)).plus(Tally.refused(10, 4, 0)));
  }

  @ParameterizedTest
  @CsvSource({
    "0, 0, 100, true", "0, 1, 100, false", "25, 25, 30, true", "25, 26, 1000000, false",
    "0.5%, 5, 1000, true", "0.5%, 6, 1000, false", "50%, 1, 2, true", "100%, 2, 2, true",
    "0%, 1, 1000000, false", "any, 1000, 1000, true"
  })
  void toleratesSoManyRejects(String text, long rejected, long read, boolean allowed) {
    assertEquals(allowed, Tolerance.parse(text).orElseThrow().allows(rejected, read));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "5    | 17 | 2080      | 17 of 2,080 rows rejected (0.82%), 12 more than the tolerance of 5; a tolerance of 17 would have passed",
        "0.5% | 17 | 2080      | 17 of 2,080 rows rejected (0.82%), over the tolerance of 0.5%; a tolerance of 0.82% would have passed",
        "0    | 1  | 1000000   | 1 of 1,000,000 rows rejected (0.0001%), 1 more than the tolerance of 0; a tolerance of 1 would have passed"
      })
  void saysByHowMuchItIsExceededAndWhatWouldHavePassed(
      String text, long rejected, long read, String told) {
    Tolerance tolerance = Tolerance.parse(text).orElseThrow();
    assertEquals(told, tolerance.exceeded(rejected, read));
    String passing = told.replaceAll(".*a tolerance of (\\S+) would.*", "$1");
    assertTrue(Tolerance.parse(passing).orElseThrow().allows(rejected, read));
  }

  @ParameterizedTest
  @ValueSource(strings = {"-1", "101%", "some", "", "1.5", "%"})
  void takesNoOtherForm(String text) {
    assertTrue(Tolerance.parse(text).isEmpty());
  }
}
