package dev.dusky.core.draft;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class JsonOutlineTest {

  private static final String DAY =
      """
      {"day": "2026-03-02", "yard": {"name": "North", "lanes": [1, 2, 3]},
       "dockets": [{"no": 1, "stops": [{"at": 5}, {"at": 6}]}, {"no": 2, "stops": []}, {"no": 3}],
       "tankers": [{"id": "T01", "crew": {"lead": {"name": "Ada"}}}, {"id": "T02"}],
       "2nd": null, "remarks": []}
      """;

  private static JsonOutline document(String text) {
    return new JsonOutline(text.getBytes(StandardCharsets.UTF_8));
  }

  @Test
  void theLongestArrayOfObjectsHoldsTheRecordsAndTheRestIsBesideIt() {
    JsonOutline document = document(DAY);
    assertEquals(Optional.of("$.dockets[*]"), document.records());
    assertEquals(
        List.of("$.yard.lanes[*] (3)", "$.tankers[*] (2)", "$.day", "$.yard.name", "$[\"2nd\"]"),
        document.beside("$.dockets[*]"));
  }

  @Test
  void aBeginningTellsWhatItHolds() {
    String cut = DAY.substring(0, DAY.indexOf("\"T02\""));
    assertEquals(Optional.of("$.dockets[*]"), document(cut).records());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "{\"a\": 1}\n{\"a\": 2}\n",
        "[{\"a\": 1}, {\"a\": 2}]",
        "{\"a\": [{\"b\": {\"c\": 1}}]}",
        "{\"a\": [1, 2, 3]}",
        "7",
        "",
        "{\"a\": tru"
      })
  void otherTextsHaveNoArrayOfRecords(String text) {
    assertEquals(Optional.empty(), document(text).records());
  }
}
