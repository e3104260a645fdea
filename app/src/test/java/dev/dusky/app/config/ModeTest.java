package dev.dusky.app.config;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.LoadMode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What loads do to a table, as the configuration says it. */
class ModeTest {

  private static final String FEED =
      """
      warehouse: jdbc:h2:file:./warehouse
      depots: { yard: "file:./intake" }
      feeds:
        prices:
          depot: yard
          files: "prices/{day:date}/{region}/*.csv"
          layout: delimited
          into: intake.price
          columns: { grade: integer }
      """;

  @TempDir Path folder;

  private LoadMode mode(String lines) throws Exception {
    Path file = folder.resolve("dusky.yaml");
    Files.writeString(file, FEED + lines.indent(4));
    return Configuration.read(file).feed("prices").policies().mode();
  }

  @Test
  void everyModeCanBeSaid() throws Exception {
    assertEquals(LoadMode.APPEND, mode(""));
    assertEquals(LoadMode.APPEND, mode("mode: append"));
    assertEquals(new LoadMode.Replace(List.of(), 20), mode("mode: replace"));
    assertEquals(new LoadMode.Replace(List.of(), 5), mode("mode: { replace: all, at-most: 5% }"));
    assertEquals(new LoadMode.Replace(List.of("day"), 20), mode("mode:\n  replace: by {day}"));
    assertEquals(
        new LoadMode.Replace(List.of("region", "day"), 100),
        mode("mode:\n  replace: by {region} {day}\n  at-most: 100 %"));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '~',
      value = {
        "mode: overwrite ~ mode cannot be 'overwrite'",
        "mode: { replace: some } ~ replace cannot be 'some'",
        "mode: { replace: 'by {hour}' } ~ captures no {hour}; it captures day, region",
        "mode: { replace: all, at-most: 101% } ~ at-most cannot be '101%'",
        "mode: { replace: all, at-most: few } ~ at-most cannot be 'few'",
        "mode: { at-most: 5% } ~ needs the key replace",
        "mode: { replace: all, keep: 1 } ~ has no key 'keep'",
        "'mode: replace\nrevised: append' ~ a revised file is loaded like a new one",
        "'mode: replace\nrepeats: { key: [grade], scope: table }' ~ use scope: load",
      })
  void whatIsWrongIsNamed(String lines, String message) {
    Failure failure = assertThrows(Failure.class, () -> mode(lines));
    assertTrue(failure.getMessage().contains(message), failure.getMessage());
  }

  @Test
  void sharesOfRowsAreJudgedExactly() {
    LoadMode.Replace mode = new LoadMode.Replace(List.of(), 20);
    assertTrue(mode.allows(0, 0));
    assertTrue(mode.allows(5, 4));
    assertTrue(mode.allows(5, 500));
    assertEquals(false, mode.allows(5, 3));
    assertEquals(false, new LoadMode.Replace(List.of(), 0).allows(1_000_000_000, 999_999_999));
    assertTrue(new LoadMode.Replace(List.of(), 100).allows(7, 0));
  }
}
