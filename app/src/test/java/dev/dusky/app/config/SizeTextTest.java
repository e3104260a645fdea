package dev.dusky.app.config;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class SizeTextTest {

  @ParameterizedTest
  @CsvSource({"1 B, 1", "800 kB, 800000", "64MB, 64000000", "5 GB, 5000000000", "' 7MB ', 7000000"})
  void kilobytesAreThousands(String text, long bytes) {
    assertEquals(Optional.of(bytes), SizeText.parse(text));
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "5", "MB", "-1MB", "1.5GB", "0 B", "10 mb", "1 TB", "9999999 B"})
  void whatIsNoSizeIsNone(String text) {
    assertEquals(Optional.empty(), SizeText.parse(text));
  }

  @Test
  void anOptionSaysWhatCanBeWritten() {
    Failure failure = assertThrows(Failure.class, () -> SizeText.option("--split", "big"));
    assertEquals(Failure.Kind.USAGE, failure.kind());
    assertTrue(failure.getMessage().contains("--split cannot be 'big'"), failure.getMessage());
  }
}
