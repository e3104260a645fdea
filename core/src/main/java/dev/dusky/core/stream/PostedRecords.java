package dev.dusky.core.stream;

import dev.dusky.core.json.JsonTree;
import java.util.Arrays;

/**
 * The records of a posted body as lines: the elements of a JSON array, such as a batch of
 * CloudEvents, or JSON values one behind the other, on lines or not.
 *
 * @param lines a line for each record, followed by eight more bytes
 * @param length how many bytes the lines have
 * @param count how many there are
 */
public record PostedRecords(byte[] lines, int length, long count) {

  /**
   * Reads a body.
   *
   * @throws IllegalArgumentException if it is not JSON; the message says where
   */
  public static PostedRecords of(byte[] body) {
    int first = 0;
    while (first < body.length && body[first] <= ' ' && body[first] >= 0) {
      first++;
    }
    return first < body.length && body[first] == '[' ? ofArray(body) : ofValues(body);
  }

  private static PostedRecords ofArray(byte[] body) {
    JsonTree tree = new JsonTree();
    if (!tree.read(body, 0, body.length)) {
      throw malformed(tree, 0);
    }
    byte[] lines = new byte[body.length + 8];
    int length = 0;
    long count = 0;
    for (int node = 1; node < tree.next(0); node = tree.next(node)) {
      for (int i = tree.start(node); i < tree.end(node); i++) {
        // Outside of strings there may be line ends, within them there are none.
        lines[length++] = body[i] == '\n' || body[i] == '\r' ? (byte) ' ' : body[i];
      }
      lines[length++] = '\n';
      count++;
    }
    return new PostedRecords(lines, length, count);
  }

  private static PostedRecords ofValues(byte[] body) {
    JsonLines split = new JsonLines();
    split.take(body, 0, body.length);
    byte[] lines = Arrays.copyOf(split.bytes(), split.length() + 8);
    JsonTree tree = new JsonTree();
    long count = 0;
    int start = 0;
    for (int i = 0; i < split.length(); i++) {
      if (lines[i] == '\n') {
        if (!tree.read(lines, start, i)) {
          throw malformed(tree, count);
        }
        start = i + 1;
        count++;
      }
    }
    if (start < split.length()) {
      throw new IllegalArgumentException("record %,d is not whole".formatted(count + 1));
    }
    return new PostedRecords(lines, split.length(), count);
  }

  private static IllegalArgumentException malformed(JsonTree tree, long before) {
    return new IllegalArgumentException(
        "record %,d is not JSON: %s".formatted(before + 1, tree.failure()));
  }
}
