package dev.dusky.core.json;

import dev.dusky.core.bytes.ByteWords;
import java.util.Arrays;

/**
 * What consecutive JSON values have in common: the names of their members, node by node. The
 * records of a file mostly have the same ones in the same order; a name that is known at its place
 * is compared in words with its quotes and colon, and not searched for its end. Hot.
 */
final class JsonShape {

  /** Names of nodes beyond this are read as if each were new. */
  private static final int MOST_NODES = 1024;

  /** The longest name that is kept, with its quotes and colon. */
  private static final int LONGEST = 32;

  private static final int WORDS = LONGEST / 8;

  /** The length of the node's name with quotes and colon; 0 if it has none, -1 if unknown. */
  private byte[] lengths = new byte[16];

  private long[] words = new long[16 * WORDS];
  private int number;
  private boolean same;

  JsonShape() {
    Arrays.fill(lengths, (byte) -1);
  }

  void begin() {
    same = true;
  }

  /** Notes that this value differs from the one before. */
  void change() {
    if (same) {
      same = false;
      number++;
    }
  }

  int number() {
    return number;
  }

  /** The node is an element or the value itself. */
  void unnamed(int node) {
    if (node >= lengths.length || lengths[node] != 0) {
      change();
      if (room(node)) {
        lengths[node] = 0;
      }
    }
  }

  /**
   * The length of the node's name with quotes and colon if it is the one that stood there before,
   * else 0.
   */
  int known(int node, byte[] b, int at, int limit) {
    int length = node < lengths.length ? lengths[node] : 0;
    if (length <= 0 || limit - at < length) {
      return 0;
    }
    int word = node * WORDS;
    int i = 0;
    for (; i + 8 <= length; i += 8) {
      if (ByteWords.at(b, at + i) != words[word++]) {
        return 0;
      }
    }
    long rest = ByteWords.at(b, at + i) << 8 * (8 - (length - i)) - 1 << 1;
    return i == length || rest == words[word] ? length : 0;
  }

  /**
   * The node has another name than before.
   *
   * @param end behind its closing quote, or 0 if the name cannot be compared as bytes
   */
  void named(int node, byte[] b, int start, int end) {
    change();
    if (!room(node)) {
      return;
    }
    int length = end - start + 1;
    boolean plain = end > 0 && length <= LONGEST && b[end] == ':';
    lengths[node] = (byte) (plain ? length : -1);
    if (plain) {
      for (int i = 0; i < length; i += 8) {
        long word = ByteWords.at(b, start + i);
        int more = Math.min(8, length - i);
        words[node * WORDS + i / 8] = more == 8 ? word : word << 8 * (8 - more);
      }
    }
  }

  private boolean room(int node) {
    if (node >= MOST_NODES) {
      return false;
    }
    if (node >= lengths.length) {
      int before = lengths.length;
      int size = Math.max(node + 1, before * 2);
      lengths = Arrays.copyOf(lengths, size);
      Arrays.fill(lengths, before, size, (byte) -1);
      words = Arrays.copyOf(words, size * WORDS);
    }
    return true;
  }
}
