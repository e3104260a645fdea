package dev.dusky.core.expect;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class FiguresJsonTest {

  private static final String SUM = "ab".repeat(32);

  private static Manifest manifest(String text) {
    return FiguresJson.manifest("yard:day.json", text.getBytes(StandardCharsets.UTF_8));
  }

  @Test
  void aManifestSaysAllThatItSays() {
    Manifest manifest =
        manifest(
            "{\"manifest\": 1, \"files\": [{\"path\": \"a/b.csv\", \"size\": 12, \"sha256\": \""
                + SUM
                + "\", \"rows\": 3, \"totals\": {\"litres\": \"12.50\", \"n\": 7}},"
                + " {\"path\": \"c.csv\", \"required\": false}]}");
    Manifest.Entry entry = manifest.entry("a/b.csv").orElseThrow();
    assertTrue(entry.required());
    assertEquals(Optional.of(12L), entry.size());
    assertEquals(Optional.of(SUM), entry.sha256());
    assertEquals(Map.of("litres", new BigDecimal("12.50"), "n", new BigDecimal(7)), entry.totals());
    assertFalse(manifest.entry("c.csv").orElseThrow().required());
    assertEquals(List.of("a/b.csv"), manifest.missing(Set.of(), true));
    assertEquals(List.of("c.csv"), manifest.missing(Set.of("a/b.csv"), false));
  }

  @Test
  void whatIsWrittenIsReadBack() {
    Manifest.Entry entry =
        new Manifest.Entry(
            "a \"b\".csv", true, Optional.of(5L), Optional.of(SUM), Optional.empty(), Map.of());
    Manifest manifest = manifest(FiguresJson.text(List.of(entry)));
    assertEquals(entry, manifest.entry("a \"b\".csv").orElseThrow());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "{\"manifest\": 1, \"files\": [{\"path\": \"a\", \"lines\": 3}]} | unknown member 'lines'",
        "{\"manifest\": 2, \"files\": []}                           | \"manifest\": 1",
        "{\"manifest\": 1, \"files\": []}                           | lists no file",
        "{\"manifest\": 1, \"files\": [{\"rows\": 3}]}              | file 1 of it has no path",
        "{\"manifest\": 1, \"files\": [{\"path\": \"../x\"}]}       | is outside the depot",
        "{\"manifest\": 1, \"files\": [{\"path\": \"/x\"}]}         | is outside the depot",
        "{\"manifest\": 1, \"files\": [{\"path\": \"a\"}, {\"path\": \"a\"}]} | lists 'a' twice",
        "{\"manifest\": 1, \"files\": [{\"path\": \"a\", \"rows\": \"3\"}]} | rows must be a whole",
        "{\"manifest\": 1, \"files\": [{\"path\": \"a\", \"rows\": -3}]}   | rows must be a whole",
        "{\"manifest\": 1, \"files\": [{\"path\": \"a\", \"sha256\": \"x\"}]} | 64 lower-case",
        "{\"manifest\": 1, \"files\": [{\"path\": \"a\", \"totals\": {\"x\": \"y\"}}]} | is not a number",
        "{\"manifest\": 1, \"files\": [{\"path\": \"a\", \"required\": 1}]} | true or false",
        "{\"manifest\": 1, \"files\": [                             | at byte",
        "[]                                                        | not a JSON object"
      })
  void whatIsWrongWithAManifestIsTold(String text, String told) {
    Failure failure = assertThrows(Failure.class, () -> manifest(text));
    assertEquals(Failure.Kind.CONFIGURATION, failure.kind());
    assertTrue(failure.getMessage().contains(told), failure.getMessage());
  }

  @Test
  void aControlFileIsThatOfOneFile() {
    ControlFigures figures =
        FiguresJson.sidecar("c", "{\"rows\": 3}".getBytes(StandardCharsets.UTF_8));
    assertEquals(Optional.of(3L), figures.rows());
    Failure failure =
        assertThrows(
            Failure.class,
            () -> FiguresJson.sidecar("c", "{\"row\": 3}".getBytes(StandardCharsets.UTF_8)));
    assertEquals(Failure.Kind.FILE, failure.kind());
  }
}
