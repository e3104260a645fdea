package dev.dusky.core.json;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Finding several members in one pass, whatever order they come in. */
class JsonMembersTest {

  private final JsonTree tree = new JsonTree();

  private int read(String json) {
    byte[] text = json.getBytes(StandardCharsets.UTF_8);
    assertTrue(tree.read(Arrays.copyOf(text, text.length + 72), 0, text.length), json);
    return 0;
  }

  private String found(JsonMembers members, int slots) {
    StringBuilder found = new StringBuilder();
    for (int slot = 0; slot < slots; slot++) {
      int node = members.node(slot);
      found
          .append(slot == 0 ? "" : "|")
          .append(node < 0 ? Integer.toString(node) : tree.text(node));
    }
    return found.toString();
  }

  @Test
  void findsThemInAnyOrderAndNumber() {
    JsonMembers members = new JsonMembers(List.of("a", "farm_code", "farm_coda", ""));
    for (String[] example :
        new String[][] {
          {"{\"a\":1,\"farm_code\":2,\"farm_coda\":3,\"\":4}", "1|2|3|4"},
          {"{\"a\":1,\"farm_code\":2,\"farm_coda\":3,\"\":4}", "1|2|3|4"},
          {"{\"\":4,\"x\":{\"a\":9},\"farm_coda\":3,\"farm_code\":2,\"a\":1}", "1|2|3|4"},
          {"{\"b\":0,\"farm_codes\":5}", "-1|-1|-1|-1"},
          {"{\"a\":[{\"a\":7}]}", "[{\"a\":7}]|-1|-1|-1"},
          {"{\"\\u0061\":1,\"farm\\u005fcode\":2}", "1|2|-1|-1"},
          {"{\"a\":1,\"farm_code\":2}", "1|2|-1|-1"},
          {"{\"a\":1,\"a\":2,\"\\u0061\":3}", "-2|-1|-1|-1"},
          {"[1,2]", "-1|-1|-1|-1"},
          {"{}", "-1|-1|-1|-1"},
        }) {
      members.find(tree, read(example[0]));
      assertEquals(example[1], found(members, 4), example[0]);
    }
    members.find(tree, -1);
    assertEquals("-1|-1|-1|-1", found(members, 4));
  }

  @Test
  void agreesWithLookingForEachByItself() {
    Random random = new Random(5);
    List<String> names = List.of("a", "b", "abcdefgh", "abcdefghi", "abcdefghj", "é");
    JsonMembers members = new JsonMembers(names);
    for (int i = 0; i < 3_000; i++) {
      StringBuilder json = new StringBuilder("{");
      int count = random.nextInt(8);
      for (int m = 0; m < count; m++) {
        String name = random.nextInt(4) == 0 ? "other" : names.get(random.nextInt(names.size()));
        json.append(m == 0 ? "" : ",").append('"').append(name).append("\":").append(m);
      }
      members.find(tree, read(json.append('}').toString()));
      for (int slot = 0; slot < names.size(); slot++) {
        int alone = JsonPath.member(names.get(slot)).single(tree, 0);
        assertEquals(alone, members.node(slot), json + " " + names.get(slot));
      }
    }
  }
}
