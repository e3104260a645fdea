package dev.dusky.core.json;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Examples in the manner of RFC 9535, on a document of our own. */
class JsonPathTest {

  private static final String YARD =
      """
      {"yard": {
         "tankers": [
           {"kind": "milk", "plate": "WD 1", "owner": "North", "load": 8.5},
           {"kind": "whey", "plate": "WD 2", "owner": "Mill", "load": 12.25},
           {"kind": "milk", "plate": "HB 3", "owner": "North", "seal": "s-553", "load": 9},
           {"kind": "milk", "plate": "HB 4", "owner": "Weir", "seal": "s-395", "load": 22.5}
         ],
         "scale": {"colour": "red", "load": 399}
       },
       "o": {"j": 1, "k": 2, "with blank": 3, "quo'te": 4},
       "a": [5, 3, null, "x", {"b": "j"}, {"b": "kilo"}, {"b": {}}],
       "empty": []}
      """;

  private static String select(String path) {
    byte[] bytes = YARD.getBytes(StandardCharsets.UTF_8);
    JsonTree tree = new JsonTree();
    assertTrue(tree.read(bytes, 0, bytes.length));
    return Arrays.stream(JsonPath.parse(path).select(tree, 0, 0))
        .mapToObj(tree::text)
        .map(text -> text.replaceAll("\\s+", ""))
        .collect(Collectors.joining(" "));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '~',
      quoteCharacter = '`',
      value = {
        "$.yard.tankers[*].owner ~ North Mill North Weir",
        "$..owner ~ North Mill North Weir",
        "$.yard.* ~ [{\"kind\":\"milk\",\"plate\":\"WD1\",\"owner\":\"North\",\"load\":8.5},{\"kind\":\"whey\",\"plate\":\"WD2\",\"owner\":\"Mill\",\"load\":12.25},{\"kind\":\"milk\",\"plate\":\"HB3\",\"owner\":\"North\",\"seal\":\"s-553\",\"load\":9},{\"kind\":\"milk\",\"plate\":\"HB4\",\"owner\":\"Weir\",\"seal\":\"s-395\",\"load\":22.5}] {\"colour\":\"red\",\"load\":399}",
        "$.yard..load ~ 8.5 12.25 9 22.5 399",
        "$..tankers[2].plate ~ HB3",
        "$..tankers[2].none ~ ``",
        "$..tankers[-1].plate ~ HB4",
        "$..tankers[0,1].plate ~ WD1 WD2",
        "$..tankers[:2].plate ~ WD1 WD2",
        "$..tankers[1:3].plate ~ WD2 HB3",
        "$..tankers[::2].plate ~ WD1 HB3",
        "$..tankers[::-1].plate ~ HB4 HB3 WD2 WD1",
        "$..tankers[5:0:-2].plate ~ HB4 WD2",
        "$..tankers[-2:].plate ~ HB3 HB4",
        "$..tankers[?@.seal].plate ~ HB3 HB4",
        "$..tankers[?@.load < 10].plate ~ WD1 HB3",
        "$..tankers[?@.load<=9].plate ~ WD1 HB3",
        "$..tankers[?@.load > 9 && @.kind == 'milk'].plate ~ HB4",
        "$..tankers[?@.owner == 'Mill' || @.owner == \"Weir\"].plate ~ WD2 HB4",
        "$..tankers[?!@.seal].plate ~ WD1 WD2",
        "$..tankers[?!(@.load > 9)].plate ~ WD1 HB3",
        "$..tankers[?@.kind != 'milk'].plate ~ WD2",
        "$..tankers[?match(@.seal, 's-3.*')].plate ~ HB4",
        "$..tankers[?search(@.seal, '55')].plate ~ HB3",
        "$..tankers[?length(@.owner) == 4].plate ~ WD2 HB4",
        "$.yard[?count(@.*) == 2].colour ~ red",
        "$..tankers[?@.load == $.yard.tankers[2].load].plate ~ HB3",
        "$..tankers[?value(@..owner) == 'Weir'].plate ~ HB4",
        "$.o['j'] ~ 1",
        "$.o[\"with blank\"] ~ 3",
        "$.o['quo\\'te'] ~ 4",
        "$['o']['k','j'] ~ 2 1",
        "$.o[*] ~ 1 2 3 4",
        "$.o[?@ > 2] ~ 3 4",
        "$.a[?@.b == 'kilo'].b ~ kilo",
        "$.a[?@.b].b ~ j kilo {}",
        "$.a[?@ == null] ~ null",
        "$.a[?@ == 5.0] ~ 5",
        "$.a[?@ == 5, ?@ == 3] ~ 5 3",
        "$.a[?@.b == $.none].b ~ ``",
        "$.a[?length(@.b) == 0].b ~ {}",
        "$.empty[*] ~ ``",
        "$.empty ~ []",
        "$.a[9] ~ ``",
        "$.a.b ~ ``",
        "$.o[0] ~ ``",
        "$ .o [ 'j' ] ~ 1"
      })
  void selects(String path, String expected) {
    assertEquals(expected, select(path));
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "o",
        ".o",
        "@.o",
        "$.",
        "$..",
        "$.o.",
        "$o",
        "$[",
        "$[]",
        "$['o'",
        "$['o",
        "$.1a",
        "$[01]",
        "$[-0]",
        "$[1.5]",
        "$[1:2:3:4]",
        "$[?]",
        "$[?@.a ==]",
        "$[?@.a == 1 2]",
        "$[?(@.a]",
        "$[?@.a = 1]",
        "$[?1]",
        "$[?'a']",
        "$[?@.* == 1]",
        "$[?@..a == 1]",
        "$[?count('a') == 1]",
        "$[?unknown(@.a)]",
        "$.o with",
        "$.o]"
      })
  void refusesWhatIsNoPath(String path) {
    IllegalArgumentException failure =
        assertThrows(IllegalArgumentException.class, () -> JsonPath.parse(path));
    assertTrue(failure.getMessage().contains("is not a JSONPath: at character"), path);
  }

  @Test
  void pointsAtTheCharacterAtFault() {
    IllegalArgumentException failure =
        assertThrows(IllegalArgumentException.class, () -> JsonPath.parse("$.a[?@.b = 1]"));
    assertEquals(
        "'$.a[?@.b = 1]' is not a JSONPath: at character 10, ] is expected here",
        failure.getMessage());
  }

  @Test
  void knowsWhichPathsLeadToOneValueOnly() {
    assertTrue(JsonPath.parse("$").singular());
    assertTrue(JsonPath.parse("$.a['b'][3][-1]").singular());
    assertFalse(JsonPath.parse("$.a[*]").singular());
    assertFalse(JsonPath.parse("$..a").singular());
    assertFalse(JsonPath.parse("$.a[0:1]").singular());
    assertFalse(JsonPath.parse("$['a','b']").singular());
    assertFalse(JsonPath.parse("$[?@.a]").singular());
  }

  @Test
  void aSingularPathIsFollowedWithoutASearch() {
    byte[] bytes = YARD.getBytes(StandardCharsets.UTF_8);
    JsonTree tree = new JsonTree();
    tree.read(bytes, 0, bytes.length);
    assertEquals("HB 3", tree.text(JsonPath.parse("$.yard.tankers[2].plate").single(tree, 0)));
    assertEquals("{\"b\": {}}", tree.text(JsonPath.parse("$.a[-1]").single(tree, 0)));
    assertEquals(-1, JsonPath.parse("$.yard.none.plate").single(tree, 0));
    assertEquals(-1, JsonPath.parse("$.a[99]").single(tree, 0));
    assertEquals(3, Integer.parseInt(tree.text(JsonPath.parse("$.a[1]").single(tree, 0))));
  }

  @Test
  void aMemberThatStandsTwiceIsNotGuessed() {
    byte[] bytes = "{\"x\": {\"a\": 1, \"a\": 2}}".getBytes(StandardCharsets.UTF_8);
    JsonTree tree = new JsonTree();
    tree.read(bytes, 0, bytes.length);
    assertEquals(JsonPath.REPEATED, JsonPath.parse("$.x.a").single(tree, 0));
  }

  @Test
  void aPlainNameIsTakenLiterally() {
    byte[] bytes = "{\"a.b\": 7}".getBytes(StandardCharsets.UTF_8);
    JsonTree tree = new JsonTree();
    tree.read(bytes, 0, bytes.length);
    assertEquals("7", tree.text(JsonPath.member("a.b").single(tree, 0)));
  }
}
