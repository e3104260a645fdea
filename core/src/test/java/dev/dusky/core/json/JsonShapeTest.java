package dev.dusky.core.json;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** A tree used again gives what a new one gives, whatever it read before. */
class JsonShapeTest {

  private static final List<String> NAMES =
      List.of(
          "a",
          "b",
          "abcde",
          "abcdef",
          "litres",
          "",
          "a name that is longer than those that are kept, by far",
          "e\\u0061",
          "twelve bytes",
          "a name of twenty-nine bytes..");

  private final Random random = new Random(17);

  private String value(int depth) {
    return switch (random.nextInt(depth > 2 ? 4 : 7)) {
      case 0 -> "12345678.25";
      case 1 -> "\"text\"";
      case 2 -> "null";
      case 3 -> Integer.toString(random.nextInt(2_000_000_000));
      case 4 -> object(depth + 1);
      case 5 -> "[" + value(depth + 1) + "," + value(depth + 1) + "]";
      default -> random.nextBoolean() ? "[]" : "{}";
    };
  }

  private String object(int depth) {
    StringBuilder json = new StringBuilder("{");
    int count = random.nextInt(5);
    for (int m = 0; m < count; m++) {
      json.append(m == 0 ? "" : ",").append('"').append(NAMES.get(random.nextInt(NAMES.size())));
      json.append(random.nextInt(8) == 0 ? "\" : " : "\":").append(value(depth));
    }
    return json.append('}').toString();
  }

  /** The same text, or one that differs from it a little; not always JSON. */
  private String like(String json) {
    return switch (random.nextInt(6)) {
      case 0 -> json.replace("abcde\"", "abcdf\"");
      case 1 -> json.replaceFirst("\"litres\":", "\"litres\";");
      case 2 -> json.substring(0, random.nextInt(json.length()));
      case 3 -> json.replaceFirst("null", "[null]");
      default -> json;
    };
  }

  private static List<String> nodes(JsonTree tree, String json, boolean good) {
    List<String> nodes = new ArrayList<>();
    nodes.add(json + " " + tree.failure());
    for (int node = 0; good && node < tree.next(0); node++) {
      nodes.add(
          "%s %d-%d next %d key %d-%d %s"
              .formatted(
                  tree.kind(node),
                  tree.start(node),
                  tree.end(node),
                  tree.next(node),
                  tree.keyStart(node),
                  tree.keyEnd(node),
                  tree.keyEscaped(node)));
    }
    return nodes;
  }

  @Test
  void aTreeUsedAgainIsLikeANewOne() {
    JsonTree used = new JsonTree();
    JsonMembers usedMembers = new JsonMembers(List.of("a", "litres", "abcde"));
    String json = object(0);
    int sameShape = 0;
    for (int i = 0; i < 20_000; i++) {
      json = random.nextInt(4) == 0 ? object(0) : json;
      String read = like(json);
      byte[] text = read.getBytes(StandardCharsets.UTF_8);
      byte[] bytes = Arrays.copyOf(text, text.length + 8);
      JsonTree fresh = new JsonTree();
      int shape = used.shape();
      boolean good = fresh.read(bytes, 0, text.length);
      assertEquals(good, used.read(bytes, 0, text.length), read);
      assertEquals(nodes(fresh, read, good), nodes(used, read, good));
      sameShape += good && shape == used.shape() ? 1 : 0;
      if (good && random.nextInt(5) > 0) {
        JsonMembers members = new JsonMembers(List.of("a", "litres", "abcde"));
        members.find(fresh, 0);
        usedMembers.find(used, 0);
        for (int slot = 0; slot < 3; slot++) {
          assertEquals(members.node(slot), usedMembers.node(slot), read);
        }
      }
    }
    assertTrue(sameShape > 2_000, sameShape + " values of the same shape as the one before");
  }
}
