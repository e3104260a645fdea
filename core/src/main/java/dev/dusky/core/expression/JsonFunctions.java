package dev.dusky.core.expression;

import dev.dusky.core.json.JsonTree;
import dev.dusky.core.type.TypeKind;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The SQL/JSON functions json_value, json_query and json_exists with paths of members, elements and
 * wildcards in lax mode: a member of an array is sought in its elements, an element of something
 * else than an array is that thing itself. Where a path leads to nothing, or to more than one
 * value, the result is null.
 */
final class JsonFunctions {

  private static final Pattern STEP =
      Pattern.compile(
          "\\.([A-Za-z_][A-Za-z0-9_]*)|\\.\"((?:[^\"\\\\]|\\\\.)*)\"|\\[\\s*(\\d{1,9})\\s*\\]"
              + "|(\\[\\s*\\*\\s*\\])|(\\.\\*)");

  /** A step of a path: a member's name, an element's index, or a wildcard. */
  private record PathStep(byte[] name, int index, boolean elements, boolean members) {}

  private JsonFunctions() {}

  static void register() {
    for (TypeKind kind : new TypeKind[] {TypeKind.JSON, TypeKind.TEXT}) {
      Functions.add(Compiler.RETURNING, 2, a -> value(a[0], a[1]), kind, TypeKind.TEXT);
      Functions.add("json_value", 2, a -> value(a[0], a[1]), kind, TypeKind.TEXT);
      Functions.add("json_query", 2, a -> query(a[0], a[1]), kind, TypeKind.TEXT);
      Functions.add("json_exists", 2, a -> exists(a[0], a[1]), kind, TypeKind.TEXT);
    }
  }

  /** Finds the nodes of a path, compiling it once as long as it stays the same. */
  private static final class Finder {
    private final JsonTree tree = new JsonTree();
    private String text;
    private List<PathStep> steps;

    List<Integer> find(Step json, Step path) {
      String wanted = path.text();
      if (!wanted.equals(text)) {
        steps = parse(wanted);
        text = wanted;
      }
      if (!tree.read(json.b, json.from, json.to)) {
        throw new NoResult("the value is not JSON: " + tree.failure());
      }
      List<Integer> nodes = List.of(0);
      for (PathStep step : steps) {
        List<Integer> next = new ArrayList<>();
        for (int node : nodes) {
          apply(step, node, next);
        }
        nodes = next;
      }
      return nodes;
    }

    private void apply(PathStep step, int node, List<Integer> found) {
      boolean array = tree.kind(node) == JsonTree.Kind.ARRAY;
      if (step.name() != null || step.members()) {
        if (array) {
          for (int child = node + 1; child < tree.next(node); child = tree.next(child)) {
            if (tree.isObject(child)) {
              apply(step, child, found);
            }
          }
        } else if (tree.isObject(node) && step.members()) {
          children(node, found);
        } else if (tree.isObject(node)) {
          int member = tree.member(node, step.name());
          if (member >= 0) {
            found.add(member);
          }
        }
      } else if (step.elements()) {
        if (array) {
          children(node, found);
        } else {
          found.add(node);
        }
      } else {
        int element = array ? tree.element(node, step.index()) : step.index() == 0 ? node : -1;
        if (element >= 0) {
          found.add(element);
        }
      }
    }

    private void children(int node, List<Integer> found) {
      for (int child = node + 1; child < tree.next(node); child = tree.next(child)) {
        found.add(child);
      }
    }
  }

  private static List<PathStep> parse(String text) {
    String path = text.strip();
    List<PathStep> steps = new ArrayList<>();
    Matcher step = STEP.matcher(path);
    int at = 1;
    while (path.startsWith("$") && at < path.length() && step.find(at) && step.start() == at) {
      String name = step.group(1) != null ? step.group(1) : step.group(2);
      steps.add(
          new PathStep(
              name == null ? null : name.getBytes(java.nio.charset.StandardCharsets.UTF_8),
              step.group(3) == null ? 0 : Integer.parseInt(step.group(3)),
              step.group(4) != null,
              step.group(5) != null));
      at = step.end();
    }
    if (!path.startsWith("$") || at != path.length()) {
      throw new NoResult("'" + text + "' is not a path of members and elements, such as $.a.b[0]");
    }
    return steps;
  }

  private static Step value(Step json, Step path) {
    Finder finder = new Finder();
    return new Step(
        TypeKind.TEXT,
        (s, row) -> {
          if (!(json.eval(row) & path.eval(row))) {
            return false;
          }
          List<Integer> nodes = finder.find(json, path);
          if (nodes.size() != 1 || finder.tree.isContainer(nodes.get(0))) {
            return false;
          }
          int node = nodes.get(0);
          return switch (finder.tree.kind(node)) {
            case NULL -> false;
            case TRUE -> s.setText("t");
            case FALSE -> s.setText("f");
            case NUMBER -> s.setText(new BigDecimal(finder.tree.text(node)).toPlainString());
            default -> s.setText(finder.tree.text(node));
          };
        });
  }

  private static Step query(Step json, Step path) {
    Finder finder = new Finder();
    return new Step(
        TypeKind.JSON,
        (s, row) -> {
          if (!(json.eval(row) & path.eval(row))) {
            return false;
          }
          List<Integer> nodes = finder.find(json, path);
          if (nodes.size() != 1) {
            return false;
          }
          int node = nodes.get(0);
          return s.setText(finder.tree.bytes(), finder.tree.start(node), finder.tree.end(node));
        });
  }

  private static Step exists(Step json, Step path) {
    Finder finder = new Finder();
    return new Step(
        TypeKind.BOOLEAN,
        (s, row) -> json.eval(row) & path.eval(row) && s.set(!finder.find(json, path).isEmpty()));
  }
}
