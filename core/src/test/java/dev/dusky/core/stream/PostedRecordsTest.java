package dev.dusky.core.stream;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class PostedRecordsTest {

  private static String lines(PostedRecords records) {
    return new String(records.lines(), 0, records.length(), StandardCharsets.UTF_8);
  }

  private static PostedRecords of(String body) {
    return PostedRecords.of(body.getBytes(StandardCharsets.UTF_8));
  }

  private static String value(Random random, int depth) {
    return switch (random.nextInt(depth > 2 ? 3 : 5)) {
      case 0 -> "\"a\\n{\\\"é\"";
      case 1 -> Integer.toString(random.nextInt(99));
      case 2 -> "null";
      case 3 -> "{\"k\":" + value(random, depth + 1) + ",\"\":" + value(random, depth + 1) + "}";
      default -> "[" + value(random, depth + 1) + "]";
    };
  }

  /** However a body writes the same objects, they become the same lines. */
  @Test
  void anArrayLinesAndValuesInARowGiveTheSame() {
    Random random = new Random(4);
    for (int round = 0; round < 300; round++) {
      List<String> objects = new ArrayList<>();
      for (int i = random.nextInt(5); i >= 0; i--) {
        objects.add("{\"v\":" + value(random, 0) + "}");
      }
      String expected = String.join("\n", objects) + "\n";
      for (String body :
          List.of(
              expected,
              String.join("\n", objects) + "\n\n",
              String.join("", objects),
              "\r\n" + String.join("  \n", objects),
              " [" + String.join(" ,\n ", objects) + "\n]\n")) {
        PostedRecords records = of(body);
        assertEquals(expected, lines(records), body);
        assertEquals(objects.size(), records.count(), body);
      }
    }
  }

  @Test
  void lineEndsBetweenTheTokensOfARecordAreBlanks() {
    assertEquals("{  \"a\":  1 }\n", lines(of("[{\r\n\"a\":\n 1\n}]")));
    assertEquals(0, of("  ").count());
    assertEquals(0, of("[]").count());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {"[{}", "[1,]", "{\"a\":1", "{\"a\":1}}", "hello", "{\"a\":\"x\ny\"}", "{]"})
  void aBodyWithOneBadRecordIsRefusedAsAWhole(String bad) {
    assertThrows(IllegalArgumentException.class, () -> of("{}\n" + bad + "\n").count());
  }
}
