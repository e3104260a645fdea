package dev.dusky.core.json;

import com.google.re2j.PatternSyntaxException;
import dev.dusky.core.json.JsonPath.Condition;
import dev.dusky.core.json.JsonPath.Segment;
import dev.dusky.core.json.JsonPath.Selector;
import dev.dusky.core.json.JsonPath.Value;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;

/** Finds the nodes that a JSONPath gives (RFC 9535, section 2). */
final class JsonPathSearch {

  private final JsonTree tree;
  private final int root;

  JsonPathSearch(JsonTree tree, int root) {
    this.tree = tree;
    this.root = root;
  }

  int[] select(List<Segment> segments, int from) {
    List<Integer> nodes = List.of(from);
    for (Segment segment : segments) {
      List<Integer> found = new ArrayList<>();
      for (int node : nodes) {
        apply(segment, node, found);
      }
      nodes = found;
    }
    return nodes.stream().mapToInt(Integer::intValue).toArray();
  }

  private void apply(Segment segment, int node, List<Integer> found) {
    for (Selector selector : segment.selectors()) {
      apply(selector, node, found);
    }
    if (segment.descendant() && tree.isContainer(node)) {
      for (int child = node + 1; child < tree.next(node); child = tree.next(child)) {
        apply(segment, child, found);
      }
    }
  }

  private void apply(Selector selector, int node, List<Integer> found) {
    if (!tree.isContainer(node)) {
      return;
    }
    boolean array = !tree.isObject(node);
    if (selector instanceof JsonPath.Name name) {
      int member = array ? -1 : tree.member(node, name.name().getBytes(StandardCharsets.UTF_8));
      if (member >= 0) {
        found.add(member);
      }
    } else if (selector instanceof JsonPath.Index index) {
      long at = index.index() < 0 ? tree.size(node) + index.index() : index.index();
      int element = array && at >= 0 ? tree.element(node, at) : -1;
      if (element >= 0) {
        found.add(element);
      }
    } else if (selector instanceof JsonPath.Slice slice) {
      if (array) {
        slice(slice, node, found);
      }
    } else {
      for (int child = node + 1; child < tree.next(node); child = tree.next(child)) {
        if (selector instanceof JsonPath.Wildcard
            || selector instanceof JsonPath.Filter filter && holds(filter.condition(), child)) {
          found.add(child);
        }
      }
    }
  }

  /** RFC 9535, section 2.3.4.2.2. */
  private void slice(JsonPath.Slice slice, int node, List<Integer> found) {
    long size = tree.size(node);
    long step = slice.step();
    if (step == 0) {
      return;
    }
    long from = slice.from() == null ? step > 0 ? 0 : size - 1 : normal(slice.from(), size);
    long to = slice.to() == null ? step > 0 ? size : -size - 1 : slice.to();
    to = slice.to() == null && step < 0 ? -1 : normal(to, size);
    long lower = step > 0 ? clamp(from, 0, size) : clamp(to, -1, size - 1);
    long upper = step > 0 ? clamp(to, 0, size) : clamp(from, -1, size - 1);
    if (step > 0) {
      for (long i = lower; i < upper; i += step) {
        found.add(tree.element(node, i));
      }
    } else {
      for (long i = upper; i > lower; i += step) {
        found.add(tree.element(node, i));
      }
    }
  }

  private static long normal(long index, long size) {
    return index >= 0 ? index : size + index;
  }

  private static long clamp(long value, long least, long most) {
    return Math.min(Math.max(value, least), most);
  }

  private boolean holds(Condition condition, int node) {
    if (condition instanceof JsonPath.All all) {
      return all.parts().stream().allMatch(part -> holds(part, node));
    }
    if (condition instanceof JsonPath.Any any) {
      return any.parts().stream().anyMatch(part -> holds(part, node));
    }
    if (condition instanceof JsonPath.Not not) {
      return !holds(not.part(), node);
    }
    if (condition instanceof JsonPath.Exists exists) {
      return nodes(exists.query(), node).length > 0;
    }
    if (condition instanceof JsonPath.Fits fits) {
      return value(fits.text(), node) instanceof JsonValue.Text text
          && value(fits.pattern(), node) instanceof JsonValue.Text pattern
          && fits(text.text(), pattern.text(), fits.whole());
    }
    JsonPath.Compare compare = (JsonPath.Compare) condition;
    return JsonValue.compare(
        value(compare.left(), node), compare.operator(), value(compare.right(), node));
  }

  private static boolean fits(String text, String pattern, boolean whole) {
    try {
      return whole
          ? JsonPath.regex(pattern).matcher(text).matches()
          : JsonPath.regex(pattern).matcher(text).find();
    } catch (PatternSyntaxException e) {
      return false; // RFC 9535, section 2.4.6: what is not an expression matches nothing
    }
  }

  private int[] nodes(JsonPath.Query query, int node) {
    return select(query.path().segments(), query.fromRoot() ? root : node);
  }

  private JsonValue value(Value value, int node) {
    if (value instanceof JsonPath.Literal literal) {
      return literal.value();
    }
    if (value instanceof JsonPath.Query query) {
      int[] nodes = nodes(query, node);
      return nodes.length == 1 ? JsonValue.of(tree, nodes[0]) : new JsonValue.Nothing();
    }
    JsonPath.Call call = (JsonPath.Call) value;
    if (call.function().equals("count")) {
      return new JsonValue.Number(
          BigDecimal.valueOf(nodes((JsonPath.Query) call.argument(), node).length));
    }
    if (call.function().equals("length") && call.argument() instanceof JsonPath.Query query) {
      int[] nodes = nodes(query, node);
      if (nodes.length == 1 && tree.isContainer(nodes[0])) {
        return new JsonValue.Number(BigDecimal.valueOf(tree.size(nodes[0])));
      }
    }
    JsonValue argument = value(call.argument(), node);
    if (call.function().equals("value")) {
      return argument;
    }
    return argument instanceof JsonValue.Text text
        ? new JsonValue.Number(
            BigDecimal.valueOf(text.text().codePointCount(0, text.text().length())))
        : new JsonValue.Nothing();
  }
}
