package dev.dusky.core.feed;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTimeoutPreemptively;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class FilePatternTest {

  @ParameterizedTest
  @CsvSource({
    "*.csv, a.csv, true",
    "*.csv, x/a.csv, false",
    "*.csv, a.csv.gz, false",
    "collections/*/*.csv.gz, collections/2026-03-02/06.csv.gz, true",
    "collections/*/*.csv.gz, collections/06.csv.gz, false",
    "collections/**/*.csv, collections/a.csv, true",
    "collections/**/*.csv, collections/x/y/a.csv, true",
    "**, x/y/z, true",
    "a?.txt, ab.txt, true",
    "a?.txt, a/.txt, false",
    "a+b(1).csv, a+b(1).csv, true",
    "a.csv, aXcsv, false"
  })
  void matchesPaths(String pattern, String path, boolean matches) {
    assertEquals(matches, FilePattern.of(pattern).matches(path));
  }

  @ParameterizedTest
  @CsvSource({"collections/*/x, collections/", "a/b.csv, a/b.csv", "a?c, a"})
  void hasALiteralBeginning(String pattern, String prefix) {
    assertEquals(prefix, FilePattern.of(pattern).prefix());
  }

  @Test
  void longNamesAreMatchedAtOnceWhateverThePattern() {
    String name = "a_".repeat(500) + "b";
    for (String pattern :
        List.of("*_*_*_*_*_*.csv", "**a**a**a**a**a.csv", "{a}_{b}_{c}_{d}_{e}.csv")) {
      assertTimeoutPreemptively(
          Duration.ofSeconds(5), () -> assertFalse(FilePattern.of(pattern).matches(name)), pattern);
    }
  }

  @Test
  void capturesAreThoseOfTheShortestNames() {
    FilePattern pattern = FilePattern.of("in/{farm}_{day:date}_{n:integer}.csv");
    assertEquals(
        Map.of("farm", "WF_1", "day", "2026-03-02", "n", "7"),
        pattern.captures("in/WF_1_2026-03-02_7.csv"));
    assertEquals(8, pattern.captureAt("in/WF_1_2026-03-02_7.csv", "day"));
  }
}
