package dev.dusky.core.record;

import com.fasterxml.jackson.core.io.JsonStringEncoder;
import dev.dusky.core.json.JsonPath;
import dev.dusky.core.json.JsonPath.Segment;
import dev.dusky.core.json.JsonTree;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * The members of JSON records that no column takes, as one JSON object whose names are paths:
 * {@code farm.owner}, and behind rows {@code results[*].unit}. Members without a value are left
 * out.
 */
final class JsonRest {

  /** A member by name; one that was asked for as a whole has its own members here. */
  private static final class Known {
    private final Map<String, Known> members = new HashMap<>();
    private boolean whole;
  }

  private final List<Known> levels = new ArrayList<>();
  private final List<String> prefixes = new ArrayList<>();
  private final StringBuilder out = new StringBuilder();

  /** The rest of what a plan asks for. */
  JsonRest(JsonPlan plan) {
    StringBuilder prefix = new StringBuilder();
    for (int level = 0; level <= plan.levels().size(); level++) {
      levels.add(new Known());
      prefixes.add(prefix.toString());
      if (level < plan.levels().size()) {
        JsonPath rows = plan.levels().get(level);
        know(levels.get(level), rows.segments());
        for (Segment segment : rows.segments()) {
          prefix.append(prefix.isEmpty() || prefix.charAt(prefix.length() - 1) == '.' ? "" : ".");
          prefix.append(name(segment) == null ? "*" : step(name(segment)));
        }
        prefix.append("[*].");
      }
    }
    for (JsonPlan.Field field : plan.fields()) {
      if (field.carried() < 0 && field.path() != null) {
        know(levels.get(field.level()), field.path().segments());
      }
    }
  }

  private static void know(Known from, List<Segment> path) {
    Known known = from;
    for (Segment segment : path) {
      String name = name(segment);
      if (name == null) {
        break;
      }
      known = known.members.computeIfAbsent(name, n -> new Known());
    }
    known.whole = true;
  }

  private static String name(Segment segment) {
    boolean one = !segment.descendant() && segment.selectors().size() == 1;
    return one && segment.selectors().get(0) instanceof JsonPath.Name n ? n.name() : null;
  }

  private static String step(String name) {
    return name.matches("[^.\\[\\]'\"*]+") ? name : "['" + name + "']";
  }

  /**
   * The rest of a record at its rows' elements, as UTF-8; null if there is none.
   *
   * @param elements the record's node, and the element at each level of rows, -1 for none
   */
  byte[] of(JsonTree tree, int[] elements) {
    out.setLength(0);
    for (int level = 0; level < levels.size(); level++) {
      if (elements[level] >= 0) {
        add(tree, elements[level], levels.get(level), prefixes.get(level));
      }
    }
    return out.isEmpty() ? null : ("{" + out + "}").getBytes(StandardCharsets.UTF_8);
  }

  private void add(JsonTree tree, int object, Known known, String prefix) {
    if (known.whole || !tree.isObject(object)) {
      return;
    }
    int last = tree.next(object);
    for (int node = object + 1; node < last; node = tree.next(node)) {
      String name = tree.key(node);
      Known member = known.members.get(name);
      if (member == null || !member.whole && !tree.isObject(node)) {
        if (tree.kind(node) != JsonTree.Kind.NULL) {
          put(tree, node, prefix + step(name));
        }
      } else {
        add(tree, node, member, prefix + step(name) + ".");
      }
    }
  }

  private void put(JsonTree tree, int node, String path) {
    int start = tree.start(node);
    out.append(out.isEmpty() ? "\"" : ",\"");
    out.append(JsonStringEncoder.getInstance().quoteAsString(path));
    out.append("\":");
    out.append(new String(tree.bytes(), start, tree.end(node) - start, StandardCharsets.UTF_8));
  }
}
