package dev.dusky.app.config;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.time.Duration;
import java.util.Optional;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class DurationTextTest {

  @ParameterizedTest
  @CsvSource({
    "500ms, PT0.5S",
    "30 s, PT30S",
    "5min, PT5M",
    "2 h, PT2H",
    "' 7 d ', PT168H",
    "0 s, PT0S",
  })
  void spansAreNumbersWithAUnit(String text, Duration span) {
    assertEquals(Optional.of(span), DurationText.parse(text));
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "30", "s", "-1 s", "1.5 h", "1 week", "9999999999 s", "5 min 3 s"})
  void allElseIsNone(String text) {
    assertEquals(Optional.empty(), DurationText.parse(text));
  }
}
