package dev.dusky.core.json;

import java.math.BigDecimal;

/** A value in a comparison of a JSONPath filter. */
public sealed interface JsonValue {

  /** No value at all: a query without a node. */
  record Nothing() implements JsonValue {}

  /** A text. */
  record Text(String text) implements JsonValue {}

  /** A number. */
  record Number(BigDecimal number) implements JsonValue {}

  /** True, false or null. */
  record Word(JsonTree.Kind kind) implements JsonValue {}

  /** An object or array, which equals only one with the same text. */
  record Structure(String json) implements JsonValue {}

  /** The value of a node. */
  static JsonValue of(JsonTree tree, int node) {
    return switch (tree.kind(node)) {
      case STRING -> new Text(tree.text(node));
      case NUMBER -> new Number(new BigDecimal(tree.text(node)));
      case TRUE, FALSE, NULL -> new Word(tree.kind(node));
      case OBJECT, ARRAY -> new Structure(tree.text(node));
    };
  }

  /** Whether two values compare so (RFC 9535, section 2.3.5.2.2). */
  static boolean compare(JsonValue left, String operator, JsonValue right) {
    boolean equal =
        left instanceof Number a && right instanceof Number b
            ? a.number().compareTo(b.number()) == 0
            : left.equals(right);
    return switch (operator) {
      case "==" -> equal;
      case "!=" -> !equal;
      case "<" -> less(left, right);
      case ">" -> less(right, left);
      case "<=" -> equal || less(left, right);
      default -> equal || less(right, left);
    };
  }

  private static boolean less(JsonValue left, JsonValue right) {
    if (left instanceof Number a && right instanceof Number b) {
      return a.number().compareTo(b.number()) < 0;
    }
    return left instanceof Text a
        && right instanceof Text b
        && compareCodePoints(a.text(), b.text()) < 0;
  }

  private static int compareCodePoints(String a, String b) {
    int[] left = a.codePoints().toArray();
    int[] right = b.codePoints().toArray();
    return java.util.Arrays.compare(left, right);
  }
}
