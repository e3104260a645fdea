package dev.dusky.core.json;

import dev.dusky.core.bytes.ByteWords;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;

/**
 * Finds several members of an object in one pass over it. Expects each member to have the name that
 * stood at its place in the object before, as records of one file mostly have. Hot.
 */
public final class JsonMembers {

  private static final int MOST_EXPECTED = 1024;

  private final byte[][] names;
  private final int[] found;
  private JsonTree foundIn;
  private int foundShape;
  private int foundObject;
  private int expected;
  private byte[][] expectedNames = new byte[16][];
  private long[] expectedWords = new long[16];
  private int[] expectedSlots = new int[16];

  /** Looks for members with these names, all different; each name's number is its slot. */
  public JsonMembers(List<String> names) {
    this.names = names.stream().map(n -> n.getBytes(StandardCharsets.UTF_8)).toArray(byte[][]::new);
    this.found = new int[names.size()];
  }

  /** Looks at a node; if it is not an object, nothing is found. */
  public void find(JsonTree tree, int object) {
    boolean there = object >= 0 && tree.isObject(object);
    if (there && tree == foundIn && tree.shape() == foundShape && object == foundObject) {
      return; // the same members at the same nodes
    }
    foundIn = there ? tree : null;
    foundShape = tree.shape();
    foundObject = object;
    Arrays.fill(found, -1);
    if (!there) {
      return;
    }
    byte[] b = tree.bytes();
    int last = tree.next(object);
    int place = 0;
    for (int node = object + 1; node < last; node = tree.next(node), place++) {
      int slot = slot(tree, node, b, tree.keyStart(node), tree.keyEnd(node), place);
      if (slot >= 0) {
        found[slot] = found[slot] == -1 ? node : JsonPath.REPEATED;
      }
    }
  }

  private int slot(JsonTree tree, int node, byte[] b, int from, int to, int place) {
    int length = to - from;
    if (place < expected && !tree.keyEscaped(node)) {
      byte[] name = expectedNames[place];
      if (name.length == length
          && expectedWords[place] == beginning(b, from, length)
          && (length <= 8 || Arrays.equals(b, from + 8, to, name, 8, length))) {
        return expectedSlots[place];
      }
    }
    byte[] name =
        tree.keyEscaped(node)
            ? tree.key(node).getBytes(StandardCharsets.UTF_8)
            : Arrays.copyOfRange(b, from, to);
    int slot = names.length - 1;
    while (slot >= 0 && !Arrays.equals(names[slot], name)) {
      slot--;
    }
    if (!tree.keyEscaped(node)) {
      expect(place, name, beginning(b, from, length), slot);
    }
    return slot;
  }

  private void expect(int place, byte[] name, long word, int slot) {
    if (place > expected || place >= MOST_EXPECTED) {
      return;
    }
    if (place == expectedNames.length) {
      expectedNames = Arrays.copyOf(expectedNames, place * 2);
      expectedWords = Arrays.copyOf(expectedWords, place * 2);
      expectedSlots = Arrays.copyOf(expectedSlots, place * 2);
    }
    expectedNames[place] = name;
    expectedWords[place] = word;
    expectedSlots[place] = slot;
    expected = Math.max(expected, place + 1);
  }

  /** The first eight bytes of a name; what is behind its end is left out. */
  private static long beginning(byte[] b, int from, int length) {
    return length >= 8 ? ByteWords.at(b, from) : ByteWords.at(b, from) & (1L << 8 * length) - 1;
  }

  /** The node of the slot's member, -1 if there is none, {@link JsonPath#REPEATED} if several. */
  public int node(int slot) {
    return found[slot];
  }
}
