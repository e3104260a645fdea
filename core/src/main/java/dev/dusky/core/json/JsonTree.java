package dev.dusky.core.json;

import dev.dusky.core.bytes.ByteWords;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/**
 * One JSON value as a flat tree over its bytes. Nothing is copied: a node is where its text starts
 * and ends, so numbers keep every digit and objects their every member. Strict as RFC 8259. Reused
 * from value to value. Hot.
 *
 * <p>Node 0 is the value itself. The first child of a node with children is the node after it. Long
 * because reading and looking share the arrays that the tree is laid out in.
 */
public final class JsonTree {

  /** The deepest nesting accepted. */
  public static final int MOST_DEPTH = 200;

  /** The kind of a node. */
  public enum Kind {
    OBJECT,
    ARRAY,
    STRING,
    NUMBER,
    TRUE,
    FALSE,
    NULL
  }

  private static final Kind[] KINDS = Kind.values();
  private static final byte OBJECT = 0;
  private static final byte ARRAY = 1;
  private static final byte STRING = 2;
  private static final byte NUMBER = 3;
  private static final int ESCAPED = 0x10;
  private static final int KEY_ESCAPED = 0x20;

  private static final long QUOTES = ByteWords.repeat('"');
  private static final long BACKSLASHES = ByteWords.repeat('\\');
  private static final long SPACES = ByteWords.repeat(0x20);
  private static final long HIGHS = ByteWords.repeat(0x80);

  private byte[] b;
  private int nodes;
  private byte[] kind = new byte[64];
  private int[] start = new int[64];
  private int[] end = new int[64];
  private int[] next = new int[64];
  private int[] keyStart = new int[64];
  private int[] keyEnd = new int[64];
  private final int[] open = new int[MOST_DEPTH + 1];
  private final JsonShape shape = new JsonShape();
  private int limit;
  private int pos;
  private boolean escaped;
  private String failure;
  private boolean repeated;

  /**
   * Reads the one value in {@code [from, to)}. Cheapest if 8 bytes follow in the array, for it is
   * read in words; if not, it is copied.
   *
   * @return whether it is well-formed; if not, {@link #failure} says why
   */
  public boolean read(byte[] bytes, int from, int to) {
    b = bytes.length - to < 8 ? Arrays.copyOf(bytes, to + 8) : bytes;
    limit = to;
    pos = from;
    nodes = 0;
    failure = null;
    shape.begin();
    beginElement();
    int depth = 0;
    while (true) {
      // A value is due here.
      blanks();
      if (pos >= limit) {
        return fail(nodes == 0 ? "it is blank" : "it ends too early");
      }
      if (nodes == kind.length) {
        grow();
      }
      int node = nodes++;
      start[node] = pos;
      byte c = b[pos];
      if (c == '{' || c == '[') {
        kind[node] |= c == '{' ? OBJECT : ARRAY;
        if (depth == MOST_DEPTH) {
          return fail("it is nested deeper than " + MOST_DEPTH);
        }
        open[depth++] = node;
        pos++;
        blanks();
        if (pos < limit && b[pos] == (c == '{' ? '}' : ']')) {
          pos++;
          depth--;
          close(node);
        } else if (c == '{') {
          if (!key()) {
            return false;
          }
          continue;
        } else {
          beginElement();
          continue;
        }
      } else if (!scalar(node, c)) {
        return false;
      }
      // Behind a whole value.
      while (true) {
        if (depth == 0) {
          blanks();
          return pos == limit || fail("more follows the value");
        }
        blanks();
        if (pos >= limit) {
          return fail("it ends too early");
        }
        byte after = b[pos];
        int parent = open[depth - 1];
        boolean object = (kind[parent] & 0xf) == OBJECT;
        if (after == ',') {
          pos++;
          if (object) {
            blanks();
            if (!key()) {
              return false;
            }
          } else {
            beginElement();
          }
          break;
        }
        if (after != (object ? '}' : ']')) {
          return fail(
              "there must be a comma or %s".formatted(object ? "a closing brace" : "a bracket"));
        }
        pos++;
        depth--;
        close(parent);
      }
    }
  }

  private void close(int node) {
    end[node] = pos;
    if (next[node] != nodes) {
      next[node] = nodes;
      shape.change();
    }
  }

  private void beginElement() {
    if (nodes == kind.length) {
      grow();
    }
    kind[nodes] = 0;
    keyStart[nodes] = 0;
    keyEnd[nodes] = -1;
    shape.unnamed(nodes);
  }

  /** Reads a member's name; the node to come gets it. */
  private boolean key() {
    if (pos >= limit || b[pos] != '"') {
      return fail("a member's name in quotes is expected here");
    }
    if (nodes == kind.length) {
      grow();
    }
    int from = pos + 1;
    int known = shape.known(nodes, b, pos, limit);
    if (known > 0) {
      keyStart[nodes] = from;
      keyEnd[nodes] = pos + known - 2;
      kind[nodes] = 0;
      pos += known;
      return true;
    }
    if (!string()) {
      return false;
    }
    keyStart[nodes] = from;
    keyEnd[nodes] = pos - 1;
    kind[nodes] = (byte) (escaped ? KEY_ESCAPED : 0);
    shape.named(nodes, b, from - 1, escaped ? 0 : pos);
    blanks();
    if (pos >= limit || b[pos] != ':') {
      return fail("a colon is expected here");
    }
    pos++;
    return true;
  }

  private boolean scalar(int node, byte c) {
    if (c == '"') {
      if (!string()) {
        return false;
      }
      kind[node] |= (byte) (STRING | (escaped ? ESCAPED : 0));
    } else if (c == '-' || c >= '0' && c <= '9') {
      if (!number()) {
        return false;
      }
      kind[node] |= NUMBER;
    } else if (word("true")) {
      kind[node] |= 4;
    } else if (word("false")) {
      kind[node] |= 5;
    } else if (word("null")) {
      kind[node] |= 6;
    } else {
      return fail("no value begins with '%s'".formatted(shown(c)));
    }
    close(node);
    return true;
  }

  private static String shown(byte c) {
    return c > 0x20 && c < 0x7f ? Character.toString(c) : "0x%02X".formatted(c & 0xff);
  }

  private boolean word(String text) {
    if (limit - pos < text.length()) {
      return false;
    }
    for (int i = 0; i < text.length(); i++) {
      if (b[pos + i] != text.charAt(i)) {
        return false;
      }
    }
    pos += text.length();
    return true;
  }

  /** Skips a string from its opening quote to behind its closing one. */
  private boolean string() {
    escaped = false;
    int i = pos + 1;
    while (true) {
      while (i < limit) {
        long word = ByteWords.at(b, i);
        long special =
            ~(ByteWords.misses(word, QUOTES) & ByteWords.misses(word, BACKSLASHES)) & HIGHS
                | word - SPACES & ~word & HIGHS;
        if (special != 0) {
          i += Long.numberOfTrailingZeros(special) >>> 3;
          break;
        }
        i += 8;
      }
      if (i >= limit) {
        pos = limit;
        return fail("a string is not closed");
      }
      byte c = b[i];
      if (c == '"') {
        pos = i + 1;
        return true;
      }
      if (c == '\\') {
        escaped = true;
        int length = escape(i);
        if (length == 0) {
          pos = i;
          return fail("a backslash begins no escape");
        }
        i += length;
      } else if (c >= 0 && c < 0x20) {
        pos = i;
        return fail("a string has the control character 0x%02X".formatted(c));
      } else {
        i++;
      }
    }
  }

  private int escape(int at) {
    if (at + 1 >= limit) {
      return 0;
    }
    byte c = b[at + 1];
    if (c != 'u') {
      return "\"\\/bfnrt".indexOf(c) >= 0 ? 2 : 0;
    }
    for (int i = at + 2; i < at + 6; i++) {
      if (i >= limit || Character.digit(b[i], 16) < 0) {
        return 0;
      }
    }
    return 6;
  }

  private boolean number() {
    int i = pos + (b[pos] == '-' ? 1 : 0);
    int digits = digits(i);
    if (digits == 0 || digits > 1 && b[i] == '0') {
      return fail("a number is malformed");
    }
    i += digits;
    if (i < limit && b[i] == '.') {
      digits = digits(i + 1);
      if (digits == 0) {
        return fail("a number is malformed");
      }
      i += 1 + digits;
    }
    if (i < limit && (b[i] | 0x20) == 'e') {
      i++;
      i += i < limit && (b[i] == '+' || b[i] == '-') ? 1 : 0;
      digits = digits(i);
      if (digits == 0) {
        return fail("a number is malformed");
      }
      i += digits;
    }
    pos = i;
    return true;
  }

  private int digits(int from) {
    int i = from;
    int more = 8;
    while (more == 8 && i < limit) {
      more = ByteWords.digitsAhead(ByteWords.at(b, i));
      i += more;
    }
    return Math.min(i, limit) - from;
  }

  private void blanks() {
    while (pos < limit && b[pos] <= ' ' && b[pos] >= 0) {
      byte c = b[pos];
      if (c != ' ' && c != '\n' && c != '\r' && c != '\t') {
        return;
      }
      pos++;
    }
  }

  private void grow() {
    int size = kind.length * 2;
    kind = Arrays.copyOf(kind, size);
    start = Arrays.copyOf(start, size);
    end = Arrays.copyOf(end, size);
    next = Arrays.copyOf(next, size);
    keyStart = Arrays.copyOf(keyStart, size);
    keyEnd = Arrays.copyOf(keyEnd, size);
  }

  private boolean fail(String why) {
    shape.change();
    failure = why;
    return false;
  }

  /** Why the last value is malformed, or null. */
  public String failure() {
    return failure;
  }

  /** Where the last value is malformed, as a position in the bytes. */
  public int failedAt() {
    return pos;
  }

  // ---- the tree

  /**
   * A number that is the same for consecutive values in which every node has the same name and the
   * same place.
   */
  public int shape() {
    return shape.number();
  }

  /** The bytes that all positions refer to. */
  public byte[] bytes() {
    return b;
  }

  /** The kind of the node. */
  public Kind kind(int node) {
    return KINDS[kind[node] & 0xf];
  }

  /** Whether the node has children, or could have. */
  public boolean isContainer(int node) {
    return (kind[node] & 0xf) <= ARRAY;
  }

  /** Whether the node is an object. */
  public boolean isObject(int node) {
    return (kind[node] & 0xf) == OBJECT;
  }

  /** Whether the node is a string with escapes in it. */
  public boolean escaped(int node) {
    return (kind[node] & ESCAPED) != 0;
  }

  /** Where the node's text starts; a string's with its quote. */
  public int start(int node) {
    return start[node];
  }

  /** Where the node's text ends, exclusive. */
  public int end(int node) {
    return end[node];
  }

  /** The node behind this one and all below it. */
  public int next(int node) {
    return next[node];
  }

  /** Where the name of the member starts that this node is the value of. */
  public int keyStart(int node) {
    return keyStart[node];
  }

  /** Where that name ends. */
  public int keyEnd(int node) {
    return keyEnd[node];
  }

  /** Whether that name has escapes in it. */
  public boolean keyEscaped(int node) {
    return (kind[node] & KEY_ESCAPED) != 0;
  }

  /** The name of the member that this node is the value of. */
  public String key(int node) {
    return JsonStrings.text(b, keyStart[node], keyEnd[node]);
  }

  /** The string's text, or any other scalar as written. */
  public String text(int node) {
    return kind(node) == Kind.STRING
        ? JsonStrings.text(b, start[node] + 1, end[node] - 1)
        : new String(b, start[node], end[node] - start[node], StandardCharsets.UTF_8);
  }

  /** The object's last member with that name, or -1; a second one is noted by {@link #repeated}. */
  public int member(int object, byte[] name) {
    repeated = false;
    int found = -1;
    int last = next[object];
    for (int node = object + 1; node < last; node = next[node]) {
      int length = keyEnd[node] - keyStart[node];
      boolean same =
          (kind[node] & KEY_ESCAPED) != 0
              ? Arrays.equals(key(node).getBytes(StandardCharsets.UTF_8), name)
              : length == name.length
                  && Arrays.equals(b, keyStart[node], keyEnd[node], name, 0, length);
      if (same) {
        repeated |= found >= 0;
        found = node;
      }
    }
    return found;
  }

  /** Whether the member last looked for occurs more than once in its object. */
  public boolean repeated() {
    return repeated;
  }

  /** The array's element at an index from 0, or -1. */
  public int element(int array, long index) {
    int last = next[array];
    long i = 0;
    for (int node = array + 1; node < last; node = next[node]) {
      if (i++ == index) {
        return node;
      }
    }
    return -1;
  }

  /** How many children the node has. */
  public int size(int container) {
    int count = 0;
    int last = next[container];
    for (int node = container + 1; node < last; node = next[node]) {
      count++;
    }
    return count;
  }
}
