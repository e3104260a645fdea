package dev.dusky.core.feed;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.depot.StagedFile;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What a path tells: captures, folders that are values, members of archives. */
class FileFactsTest {

  @ParameterizedTest
  @CsvSource({
    "collections/{day:date}/{hour}/*.csv.gz, collections/2026-03-02/05/a.csv.gz, day=2026-03-02 hour=05",
    "collections/{day:date}/*.csv, collections/2026-03-02/a.csv, day=2026-03-02",
    "x/{n:integer}.csv, x/0042.csv, n=0042",
    "x/{name}-{n:integer}.csv, x/a-b-7.csv, n=7 name=a-b",
    "assays/day={day:date}/*.jsonl, assays/day=2026-03-02/a.jsonl, day=2026-03-02",
    "**/*.parquet, a/region=north/day=2026-03-02/p.parquet, day=2026-03-02 region=north",
    "*.csv, plain.csv, ''"
  })
  void capturesBecomeValues(String pattern, String path, String expected) {
    FilePattern files = FilePattern.of(pattern);
    assertTrue(files.matches(path));
    StringBuilder found = new StringBuilder();
    files.captures(path).entrySet().stream()
        .sorted(Map.Entry.comparingByKey())
        .forEach(e -> found.append(found.isEmpty() ? "" : " ").append(e));
    assertEquals(expected, found.toString());
  }

  @ParameterizedTest
  @CsvSource({
    "collections/{day:date}/*.csv, collections/today/a.csv",
    "collections/{day:date}/*.csv, collections/2026-03-02/05/a.csv",
    "x/{n:integer}.csv, x/a.csv",
    "x/{name}.csv, x/a/b.csv",
    "x/{name}.csv, x/.csv"
  })
  void whatDoesNotFitIsNoFileOfTheFeed(String pattern, String path) {
    assertFalse(FilePattern.of(pattern).matches(path));
  }

  @ParameterizedTest
  @ValueSource(strings = {"{", "a/{}/b", "{Day}", "{day:time}", "{day", "{day}/{day}", "{1}"})
  void malformedCapturesAreRefused(String pattern) {
    assertThrows(IllegalArgumentException.class, () -> FilePattern.of(pattern));
  }

  @Test
  void theFixedBeginningLimitsTheListing() {
    assertEquals("a/", FilePattern.of("a/{day:date}/*.csv").prefix());
    assertEquals("a/b.zip", FilePattern.of("a/b.zip!/x/*.csv").prefix());
    assertEquals("a/", FilePattern.of("a/*.zip!/*.csv").prefix());
  }

  @Test
  void membersOfArchivesMatchWithTheirArchiveOrByName() {
    FilePattern all = FilePattern.of("drops/*.zip");
    assertTrue(all.matches("drops/a.zip"));
    assertTrue(all.matches("drops/a.zip!/in/x.csv"));
    assertFalse(all.namesMembers());
    FilePattern some = FilePattern.of("drops/*.zip!/{kind}.csv");
    assertTrue(some.namesMembers());
    assertTrue(some.matches("drops/a.zip!/farms.csv"));
    assertFalse(some.matches("drops/a.zip!/in/farms.csv"));
    assertTrue(some.matches("drops/a.zip"), "an archive that cannot be opened must show");
    assertEquals(Map.of("kind", "farms"), some.captures("drops/a.zip!/farms.csv"));
    assertEquals(List.of("kind"), some.captureNames());
  }

  @Test
  void everyFileHasItsMetadata() {
    FileFacts facts =
        FileFacts.of(
            FilePattern.of("{day:date}/*"),
            new StagedFile("2026-03-02/a.csv", 12, "m", Instant.parse("2026-03-02T05:06:07Z")),
            9,
            Instant.parse("2026-03-02T06:00:00.1234567Z"));
    assertEquals(Optional.of("2026-03-02/a.csv"), facts.get("file.path"));
    assertEquals(Optional.of("a.csv"), facts.get("file.name"));
    assertEquals(Optional.of("12"), facts.get("file.size"));
    assertEquals(Optional.of("2026-03-02T05:06:07Z"), facts.get("file.modified"));
    assertEquals(Optional.of("9"), facts.get("load.id"));
    assertEquals(Optional.of("2026-03-02T06:00:00.123456Z"), facts.get("load.time"));
    assertEquals(Optional.of("2026-03-02"), facts.get("day"));
    assertEquals(Optional.empty(), facts.get("none"));
  }
}
