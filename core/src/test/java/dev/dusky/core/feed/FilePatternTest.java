package dev.dusky.core.feed;

import static org.junit.jupiter.api.Assertions.assertEquals;

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
}
