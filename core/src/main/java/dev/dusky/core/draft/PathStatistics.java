package dev.dusky.core.draft;

import dev.dusky.core.json.JsonStrings;
import dev.dusky.core.json.JsonTree;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Every path in a sample of JSON records: types, share, range, length, examples. */
public final class PathStatistics {

  private static final int VALUES = 4_000;

  /** The statistics of one path. */
  public static final class Path {
    private final String text;
    private final Map<JsonTree.Kind, Integer> kinds = new EnumMap<>(JsonTree.Kind.class);
    private final List<String> values = new ArrayList<>();
    private int records;
    private int lastRecord = -1;
    private int count;
    private int longest;
    private BigDecimal least;
    private BigDecimal greatest;

    private Path(String text) {
      this.text = text;
    }

    /** The path as JSONPath, array elements as {@code [*]}. */
    public String text() {
      return text;
    }

    /** The kinds of value, with how often each. */
    public Map<JsonTree.Kind, Integer> kinds() {
      return kinds;
    }

    /** In how many records the path leads somewhere. */
    public int records() {
      return records;
    }

    /** How many values it gives in all. */
    public int count() {
      return count;
    }

    /** The longest scalar's number of characters. */
    public int longest() {
      return longest;
    }

    /** The smallest number, or null. */
    public BigDecimal least() {
      return least;
    }

    /** The largest number, or null. */
    public BigDecimal greatest() {
      return greatest;
    }

    /** Scalar values as texts, nulls left out, up to a few thousand. */
    public List<String> values() {
      return values;
    }

    /** Whether it gives objects or arrays only. */
    public boolean isStructure() {
      return kinds.keySet().stream()
          .allMatch(
              k ->
                  k == JsonTree.Kind.OBJECT || k == JsonTree.Kind.ARRAY || k == JsonTree.Kind.NULL);
    }
  }

  private final Map<String, Path> paths = new LinkedHashMap<>();
  private int records;

  /** Adds a record. */
  public void add(JsonTree tree) {
    visit(tree, 0, "$");
    records++;
  }

  private void visit(JsonTree tree, int node, String text) {
    if (!text.equals("$")) {
      note(tree, node, text);
    }
    if (tree.isContainer(node)) {
      boolean object = tree.isObject(node);
      for (int child = node + 1; child < tree.next(node); child = tree.next(child)) {
        visit(tree, child, object ? text + member(tree.key(child)) : text + "[*]");
      }
    }
  }

  /** The step of a JSONPath to a member. */
  static String member(String name) {
    return name.matches("[A-Za-z_][A-Za-z0-9_]*")
        ? "." + name
        : "[" + JsonStrings.quoted(name) + "]";
  }

  private void note(JsonTree tree, int node, String text) {
    if (paths.size() > 5_000 && !paths.containsKey(text)) {
      return;
    }
    Path path = paths.computeIfAbsent(text, Path::new);
    path.kinds.merge(tree.kind(node), 1, Integer::sum);
    path.count++;
    if (path.lastRecord != records) {
      path.lastRecord = records;
      path.records++;
    }
    if (tree.isContainer(node) || tree.kind(node) == JsonTree.Kind.NULL) {
      return;
    }
    String value = tree.text(node);
    path.longest = Math.max(path.longest, value.codePointCount(0, value.length()));
    if (path.values.size() < VALUES) {
      path.values.add(value);
    }
    if (tree.kind(node) == JsonTree.Kind.NUMBER) {
      BigDecimal number = new BigDecimal(value);
      path.least = path.least == null ? number : path.least.min(number);
      path.greatest = path.greatest == null ? number : path.greatest.max(number);
    }
  }

  /** All paths in the order in which they first came. */
  public List<Path> paths() {
    return List.copyOf(paths.values());
  }

  /** How many records were looked at. */
  public int records() {
    return records;
  }
}
