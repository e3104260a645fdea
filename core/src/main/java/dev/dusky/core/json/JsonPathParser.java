package dev.dusky.core.json;

import dev.dusky.core.json.JsonPath.Condition;
import dev.dusky.core.json.JsonPath.Segment;
import dev.dusky.core.json.JsonPath.Selector;
import dev.dusky.core.json.JsonPath.Value;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;

/** Reads JSONPath by recursive descent, after the grammar in appendix A of RFC 9535. */
final class JsonPathParser {

  private final String text;
  private int at;

  JsonPathParser(String text) {
    this.text = text;
  }

  JsonPath parse() {
    if (text.isEmpty() || text.charAt(0) != '$') {
      throw fault("a path begins with $");
    }
    at = 1;
    List<Segment> segments = segments();
    if (at < text.length()) {
      throw fault("a dot or bracket is expected here");
    }
    return new JsonPath(text, segments);
  }

  private List<Segment> segments() {
    List<Segment> segments = new ArrayList<>();
    while (true) {
      int before = at;
      blanks();
      if (take("..")) {
        List<Selector> selectors = peek('[') ? bracket() : List.of(dotted());
        segments.add(new Segment(true, selectors));
      } else if (take(".")) {
        segments.add(new Segment(false, List.of(dotted())));
      } else if (peek('[')) {
        segments.add(new Segment(false, bracket()));
      } else {
        at = before;
        return segments;
      }
    }
  }

  private Selector dotted() {
    if (take("*")) {
      return new JsonPath.Wildcard();
    }
    int from = at;
    while (at < text.length() && nameCharacter(text.charAt(at), at == from)) {
      at++;
    }
    if (at == from) {
      throw fault("a name or * is expected here");
    }
    return new JsonPath.Name(text.substring(from, at));
  }

  private static boolean nameCharacter(char c, boolean first) {
    return c >= 'a' && c <= 'z'
        || c >= 'A' && c <= 'Z'
        || c == '_'
        || c >= 0x80
        || !first && c >= '0' && c <= '9';
  }

  private List<Selector> bracket() {
    at++;
    List<Selector> selectors = new ArrayList<>();
    do {
      blanks();
      selectors.add(selector());
      blanks();
    } while (take(","));
    need("]");
    return List.copyOf(selectors);
  }

  private Selector selector() {
    if (peek('\'') || peek('"')) {
      return new JsonPath.Name(string());
    }
    if (take("*")) {
      return new JsonPath.Wildcard();
    }
    if (take("?")) {
      blanks();
      return new JsonPath.Filter(or());
    }
    Long from = integer();
    blanks();
    if (!take(":")) {
      if (from == null) {
        throw fault("a name in quotes, an index, a slice, * or ? is expected here");
      }
      return new JsonPath.Index(from);
    }
    blanks();
    Long to = integer();
    blanks();
    Long step = null;
    if (take(":")) {
      blanks();
      step = integer();
    }
    return new JsonPath.Slice(from, to, step == null ? 1 : step);
  }

  private Long integer() {
    int from = at;
    take("-");
    while (at < text.length() && Character.digit(text.charAt(at), 10) >= 0) {
      at++;
    }
    String number = text.substring(from, at);
    if (number.isEmpty()) {
      return null;
    }
    if (!number.matches("0|-?[1-9]\\d{0,15}")) {
      at = from;
      throw fault("'" + number + "' is not a whole number");
    }
    return Long.valueOf(number);
  }

  private String string() {
    char quote = text.charAt(at++);
    StringBuilder inside = new StringBuilder();
    while (at < text.length() && text.charAt(at) != quote) {
      char c = text.charAt(at++);
      if (c == '\\' && at < text.length()) {
        char escaped = text.charAt(at++);
        inside.append(escaped == '\'' ? "'" : "\\" + escaped);
      } else if (c < 0x20) {
        throw fault("a control character must be escaped");
      } else {
        inside.append(c == '"' ? "\\\"" : Character.toString(c));
      }
    }
    need(Character.toString(quote));
    byte[] json = ('"' + inside.toString() + '"').getBytes(StandardCharsets.UTF_8);
    JsonTree tree = new JsonTree();
    if (!tree.read(json, 0, json.length)) {
      throw fault("the string before this is malformed: " + tree.failure());
    }
    return tree.text(0);
  }

  private Condition or() {
    List<Condition> parts = new ArrayList<>();
    do {
      blanks();
      parts.add(and());
      blanks();
    } while (take("||"));
    return parts.size() == 1 ? parts.get(0) : new JsonPath.Any(List.copyOf(parts));
  }

  private Condition and() {
    List<Condition> parts = new ArrayList<>();
    do {
      blanks();
      parts.add(basic());
      blanks();
    } while (take("&&"));
    return parts.size() == 1 ? parts.get(0) : new JsonPath.All(List.copyOf(parts));
  }

  private Condition basic() {
    if (text.startsWith("!=", at)) {
      throw fault("a value must precede !=");
    }
    if (take("!")) {
      blanks();
      return new JsonPath.Not(basic());
    }
    if (take("(")) {
      Condition inside = or();
      blanks();
      need(")");
      return inside;
    }
    for (String function : List.of("match", "search")) {
      if (text.startsWith(function + "(", at)) {
        at += function.length() + 1;
        blanks();
        Value subject = value();
        blanks();
        need(",");
        blanks();
        Value pattern = value();
        blanks();
        need(")");
        return new JsonPath.Fits(subject, pattern, function.equals("match"));
      }
    }
    Value left = value();
    int before = at;
    blanks();
    for (String operator : List.of("==", "!=", "<=", ">=", "<", ">")) {
      if (take(operator)) {
        blanks();
        Value right = value();
        singular(left);
        singular(right);
        return new JsonPath.Compare(left, operator, right);
      }
    }
    at = before;
    if (left instanceof JsonPath.Query query) {
      return new JsonPath.Exists(query);
    }
    throw fault("a comparison is expected here");
  }

  private void singular(Value value) {
    if (value instanceof JsonPath.Query query && !query.path().singular()) {
      throw fault("a path in a comparison must lead to one value only");
    }
  }

  private Value value() {
    if (peek('\'') || peek('"')) {
      return new JsonPath.Literal(new JsonValue.Text(string()));
    }
    if (peek('@') || peek('$')) {
      boolean root = peek('$');
      int from = at++;
      List<Segment> segments = segments();
      return new JsonPath.Query(root, new JsonPath(text.substring(from, at), segments));
    }
    for (String function : List.of("length", "count", "value")) {
      if (take(function + "(")) {
        blanks();
        Value argument = value();
        blanks();
        need(")");
        if (!function.equals("length") && !(argument instanceof JsonPath.Query)) {
          throw fault(function + " takes a path");
        }
        return new JsonPath.Call(function, argument);
      }
    }
    if (take("true")) {
      return new JsonPath.Literal(new JsonValue.Word(JsonTree.Kind.TRUE));
    }
    if (take("false")) {
      return new JsonPath.Literal(new JsonValue.Word(JsonTree.Kind.FALSE));
    }
    if (take("null")) {
      return new JsonPath.Literal(new JsonValue.Word(JsonTree.Kind.NULL));
    }
    int from = at;
    while (at < text.length() && "+-.eE0123456789".indexOf(text.charAt(at)) >= 0) {
      at++;
    }
    String number = text.substring(from, at);
    if (!number.matches("-?(0|[1-9]\\d*)(\\.\\d+)?([eE][-+]?\\d+)?")) {
      at = from;
      throw fault("a value is expected here");
    }
    return new JsonPath.Literal(new JsonValue.Number(new BigDecimal(number)));
  }

  private boolean peek(char c) {
    return at < text.length() && text.charAt(at) == c;
  }

  private boolean take(String token) {
    if (text.startsWith(token, at)) {
      at += token.length();
      return true;
    }
    return false;
  }

  private void need(String token) {
    if (!take(token)) {
      throw fault(token + " is expected here");
    }
  }

  private void blanks() {
    while (at < text.length() && " \t\n\r".indexOf(text.charAt(at)) >= 0) {
      at++;
    }
  }

  private IllegalArgumentException fault(String message) {
    return new IllegalArgumentException(
        "'%s' is not a JSONPath: at character %d, %s".formatted(text, at + 1, message));
  }
}
