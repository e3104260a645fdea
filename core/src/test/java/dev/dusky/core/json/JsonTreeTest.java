package dev.dusky.core.json;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.charset.StandardCharsets;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class JsonTreeTest {

  private static JsonTree read(String json) {
    byte[] bytes = json.getBytes(StandardCharsets.UTF_8);
    JsonTree tree = new JsonTree();
    assertTrue(tree.read(bytes, 0, bytes.length), () -> json + ": " + tree.failure());
    assertNull(tree.failure());
    return tree;
  }

  private static String failure(String json) {
    byte[] bytes = json.getBytes(StandardCharsets.UTF_8);
    JsonTree tree = new JsonTree();
    assertFalse(tree.read(bytes, 0, bytes.length), json);
    return tree.failure();
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "0",
        "-0",
        "12",
        "-1.5",
        "1e5",
        "1E+05",
        "1.25e-300",
        "12345678901234567890123456789.000000000000000000001",
        "true",
        "false",
        "null",
        "\"\"",
        "\"a\"",
        "\"\\\"\\\\\\/\\b\\f\\n\\r\\t\\u00e9\"",
        "\"é日本𝄞\"",
        "\"a string that is longer than eight bytes, and than sixteen too\"",
        "[]",
        "[ ]",
        "{}",
        "{ }",
        "[1,2,3]",
        "[[],[[]],{}]",
        "{\"a\":1}",
        "{\"a\":{\"b\":[1,{\"c\":null}]},\"d\":[]}",
        " \t\r\n{ \"a\" : [ 1 , 2 ] } \n",
        "{\"\":0}",
        "{\"a\":1,\"a\":2}"
      })
  void takesWellFormedValues(String json) {
    read(json);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        " ",
        "nul",
        "TRUE",
        "NaN",
        "Infinity",
        "-Infinity",
        "01",
        "-",
        "+1",
        "1.",
        ".5",
        "1e",
        "1e+",
        "0x10",
        "1_000",
        "'a'",
        "\"a",
        "\"a\\",
        "\"a\\x\"",
        "\"\\u12\"",
        "\"\\u12g4\"",
        "\"line\nbreak\"",
        "\"tab\there\"",
        "[",
        "[1",
        "[1,",
        "[1,]",
        "[,1]",
        "[1 2]",
        "]",
        "{",
        "{\"a\"",
        "{\"a\":",
        "{\"a\":1",
        "{\"a\":1,",
        "{\"a\":1,}",
        "{a:1}",
        "{1:2}",
        "{\"a\" 1}",
        "{\"a\":1 \"b\":2}",
        "{\"a\":1]",
        "[1}",
        "1 2",
        "{} {}",
        "[] x",
        "// comment\n1",
        "\"a\" \"b\""
      })
  void refusesAnythingElse(String json) {
    assertFalse(failure(json).isEmpty());
  }

  @Test
  void saysWhatIsWrongAndWhere() {
    assertEquals("it is blank", failure("  "));
    assertEquals("more follows the value", failure("1 1"));
    assertEquals("a string is not closed", failure("\"abc"));
    assertEquals("no value begins with 'N'", failure("NaN"));
    assertEquals("a number is malformed", failure("01"));
    assertEquals("it ends too early", failure("[1, "));
    assertEquals("a member's name in quotes is expected here", failure("{a: 1}"));
    assertEquals("a string has the control character 0x09", failure("\"a\tb\""));
    byte[] bytes = "{\"a\": [1, 2, x]}".getBytes(StandardCharsets.UTF_8);
    JsonTree tree = new JsonTree();
    assertFalse(tree.read(bytes, 0, bytes.length));
    assertEquals(13, tree.failedAt());
  }

  @Test
  void nestingIsBounded() {
    read("[".repeat(JsonTree.MOST_DEPTH) + "]".repeat(JsonTree.MOST_DEPTH));
    String deep = "[".repeat(10_000) + "]".repeat(10_000);
    assertEquals("it is nested deeper than " + JsonTree.MOST_DEPTH, failure(deep));
  }

  @Test
  void nodesPointAtTheirTextAndKeepEveryDigit() {
    JsonTree tree = read("{\"n\": 1.2300, \"s\": \"x\\ty\", \"o\": {\"k\": [true]}}");
    int n = tree.member(0, bytes("n"));
    assertEquals(JsonTree.Kind.NUMBER, tree.kind(n));
    assertEquals("1.2300", tree.text(n));
    int s = tree.member(0, bytes("s"));
    assertEquals(JsonTree.Kind.STRING, tree.kind(s));
    assertTrue(tree.escaped(s));
    assertEquals("x\ty", tree.text(s));
    int o = tree.member(0, bytes("o"));
    assertEquals("{\"k\": [true]}", tree.text(o));
    assertEquals("o", tree.key(o));
    int list = tree.member(o, bytes("k"));
    assertEquals(1, tree.size(list));
    assertEquals(JsonTree.Kind.TRUE, tree.kind(tree.element(list, 0)));
    assertEquals(-1, tree.element(list, 1));
    assertEquals(-1, tree.member(0, bytes("none")));
  }

  @Test
  void aRepeatedMemberIsNoticed() {
    JsonTree tree = read("{\"a\": 1, \"b\": 2, \"a\": 3}");
    assertEquals("3", tree.text(tree.member(0, bytes("a"))));
    assertTrue(tree.repeated());
    assertEquals("2", tree.text(tree.member(0, bytes("b"))));
    assertFalse(tree.repeated());
  }

  @Test
  void namesWithEscapesAreFound() {
    JsonTree tree = read("{\"a\\u0062c\": 1, \"t\\\"q\": 2}");
    assertEquals("1", tree.text(tree.member(0, bytes("abc"))));
    assertEquals("2", tree.text(tree.member(0, bytes("t\"q"))));
  }

  @Test
  void aTreeIsReusedForTheNextValue() {
    JsonTree tree = new JsonTree();
    for (String json : new String[] {"[1,2,3,4,5]", "{}", "\"x\"", "{\"a\":[]}"}) {
      byte[] bytes = bytes(json);
      assertTrue(tree.read(bytes, 0, bytes.length));
      assertEquals(json, json.startsWith("\"") ? '"' + tree.text(0) + '"' : tree.text(0));
    }
  }

  @Test
  void manyNodesMakeItGrow() {
    StringBuilder json = new StringBuilder("[");
    for (int i = 0; i < 10_000; i++) {
      json.append(i == 0 ? "" : ",").append("{\"i\":").append(i).append('}');
    }
    JsonTree tree = read(json.append(']').toString());
    assertEquals(10_000, tree.size(0));
    int last = tree.element(0, 9_999);
    assertEquals("9999", tree.text(tree.member(last, bytes("i"))));
  }

  @Test
  void stringsAreUnescapedSurrogatesIncluded() {
    assertEquals("𝄞", read("\"\\ud834\\udd1e\"").text(0));
    assertEquals("/\b\f\n\r\t\"\\", read("\"\\/\\b\\f\\n\\r\\t\\\"\\\\\"").text(0));
    byte[] lone = bytes("\\ud834x");
    byte[] to = new byte[lone.length];
    int length = JsonStrings.unescape(lone, 0, lone.length, to);
    assertEquals(4, length);
    assertEquals((byte) 0xed, to[0]);
  }

  @Test
  void textsAreQuoted() {
    assertEquals("\"a\\\"b\\\\c\\n\\u0001é\"", JsonStrings.quoted("a\"b\\c\n\u0001é"));
  }

  private static byte[] bytes(String text) {
    return text.getBytes(StandardCharsets.UTF_8);
  }
}
