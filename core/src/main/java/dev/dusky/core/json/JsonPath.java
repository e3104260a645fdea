package dev.dusky.core.json;

import com.google.re2j.Pattern;
import java.nio.charset.StandardCharsets;
import java.util.List;

/**
 * A query of RFC 9535 on a {@link JsonTree}: names, indices, wildcards, slices, filters with
 * comparisons, existence tests and the functions length, count, value, match and search, and
 * descendants.
 */
public final class JsonPath {

  /** One step: its selectors apply to a node's children, or to all below it. */
  public record Segment(boolean descendant, List<Selector> selectors) {

    /** Whether it can select one node at most. */
    public boolean singular() {
      return !descendant
          && selectors.size() == 1
          && (selectors.get(0) instanceof Name || selectors.get(0) instanceof Index);
    }

    /** Whether it is a plain wildcard. */
    public boolean wildcard() {
      return !descendant && selectors.size() == 1 && selectors.get(0) instanceof Wildcard;
    }
  }

  /** Selects among a node's children. */
  public sealed interface Selector {}

  /** The member with a name. */
  public record Name(String name) implements Selector {}

  /** The element at an index; from the end if below 0. */
  public record Index(long index) implements Selector {}

  /** All children. */
  public record Wildcard() implements Selector {}

  /** Elements from, to (exclusive), by step; null where not given. */
  public record Slice(Long from, Long to, long step) implements Selector {}

  /** The children for which a condition holds. */
  public record Filter(Condition condition) implements Selector {}

  /** A condition on a node. */
  public sealed interface Condition {}

  /** All hold. */
  public record All(List<Condition> parts) implements Condition {}

  /** One holds at least. */
  public record Any(List<Condition> parts) implements Condition {}

  /** It does not hold. */
  public record Not(Condition part) implements Condition {}

  /** A query gives a node. */
  public record Exists(Query query) implements Condition {}

  /** Two values compare so: one of == != &lt; &lt;= &gt; &gt;=. */
  public record Compare(Value left, String operator, Value right) implements Condition {}

  /** A text fits a regular expression, as a whole or in part. */
  public record Fits(Value text, Value pattern, boolean whole) implements Condition {}

  /** Something that has a value, or nothing. */
  public sealed interface Value {}

  /** A literal, as JSON text. */
  public record Literal(JsonValue value) implements Value {}

  /** The value of a query's one node. */
  public record Query(boolean fromRoot, JsonPath path) implements Value {}

  /** length, count or value of a value. */
  public record Call(String function, Value argument) implements Value {}

  private final String text;
  private final List<Segment> segments;
  private final byte[][] names;
  private final boolean singular;

  JsonPath(String text, List<Segment> segments) {
    this.text = text;
    this.segments = List.copyOf(segments);
    this.singular = segments.stream().allMatch(Segment::singular);
    this.names = new byte[segments.size()][];
    for (int i = 0; i < names.length; i++) {
      if (segments.get(i).singular() && segments.get(i).selectors().get(0) instanceof Name name) {
        names[i] = name.name().getBytes(StandardCharsets.UTF_8);
      }
    }
  }

  /**
   * Reads a query that begins with {@code $}.
   *
   * @throws IllegalArgumentException with the place at fault if it is none
   */
  public static JsonPath parse(String text) {
    return new JsonPathParser(text).parse();
  }

  /** The member with that name, taken literally. */
  public static JsonPath member(String name) {
    return new JsonPath(name, List.of(new Segment(false, List.of(new Name(name)))));
  }

  /** A path of the given segments, named so in messages. */
  public static JsonPath of(String text, List<Segment> segments) {
    return new JsonPath(text, segments);
  }

  /** The steps. */
  public List<Segment> segments() {
    return segments;
  }

  /** Whether it can give one node at most. */
  public boolean singular() {
    return singular;
  }

  /** The node that a singular path leads to, or -1. Hot. */
  public int single(JsonTree tree, int from) {
    int node = from;
    for (int i = 0; i < names.length; i++) {
      if (names[i] != null) {
        node = tree.isObject(node) ? tree.member(node, names[i]) : -1;
      } else {
        long index = ((Index) segments.get(i).selectors().get(0)).index();
        boolean array = tree.kind(node) == JsonTree.Kind.ARRAY;
        node = array ? tree.element(node, index < 0 ? tree.size(node) + index : index) : -1;
      }
      if (node < 0 || tree.repeated() && names[i] != null) {
        return node < 0 ? -1 : REPEATED;
      }
    }
    return node;
  }

  /** The result of {@link #single} when a member on the path occurs twice in its object. */
  public static final int REPEATED = -2;

  /** The nodes that the path gives, in the order of RFC 9535. */
  public int[] select(JsonTree tree, int root, int from) {
    return new JsonPathSearch(tree, root).select(segments, from);
  }

  static Pattern regex(String iregexp) {
    return Pattern.compile(iregexp);
  }

  /** The path as written. */
  @Override
  public String toString() {
    return text;
  }
}
