package dev.dusky.core.type;

import java.nio.charset.StandardCharsets;
import java.util.List;

/** Reads truth values from words. */
public final class BooleanText {

  private static final List<String> TRUE = List.of("true", "t", "yes", "y", "on", "1");
  private static final List<String> FALSE = List.of("false", "f", "no", "n", "off", "0");

  private final byte[][] truths;
  private final byte[][] falses;
  private final boolean anyCase;
  private boolean failed;

  private BooleanText(List<String> truths, List<String> falses, boolean anyCase) {
    this.truths = bytes(truths);
    this.falses = bytes(falses);
    this.anyCase = anyCase;
  }

  private static byte[][] bytes(List<String> words) {
    return words.stream().map(w -> w.getBytes(StandardCharsets.UTF_8)).toArray(byte[][]::new);
  }

  /** The words that SQL databases commonly take, in any case. */
  public static BooleanText common() {
    return new BooleanText(TRUE, FALSE, true);
  }

  /**
   * Own words, written as {@code true words/false words} with {@code |} between alternatives, such
   * as {@code J|ja/N|nein}; case counts.
   *
   * @throws IllegalArgumentException with a message for people if it has another form
   */
  public static BooleanText of(String pattern) {
    String[] sides = pattern.split("/", -1);
    if (sides.length != 2 || sides[0].isEmpty() || sides[1].isEmpty()) {
      throw new IllegalArgumentException(
          "'" + pattern + "' is not of the form 'true words/false words', such as 'J|ja/N|nein'");
    }
    return new BooleanText(List.of(sides[0].split("\\|")), List.of(sides[1].split("\\|")), false);
  }

  /** 1 for true, 0 for false; check {@link #failed} before using it. */
  public long parse(byte[] b, int start, int end) {
    failed = false;
    if (any(truths, b, start, end)) {
      return 1;
    }
    failed = !any(falses, b, start, end);
    return 0;
  }

  private boolean any(byte[][] words, byte[] b, int start, int end) {
    for (byte[] word : words) {
      if (word.length == end - start && same(word, b, start)) {
        return true;
      }
    }
    return false;
  }

  private boolean same(byte[] word, byte[] b, int start) {
    for (int i = 0; i < word.length; i++) {
      byte c = b[start + i];
      if (anyCase && c >= 'A' && c <= 'Z') {
        c += 'a' - 'A';
      }
      if (c != word[i]) {
        return false;
      }
    }
    return true;
  }

  /** Whether the last value was none of the words. */
  public boolean failed() {
    return failed;
  }
}
