package dev.dusky.core.type;

import dev.dusky.core.bytes.ByteWords;

/** Checks UTF-8 (RFC 3629) and counts its characters. Hot. */
public final class Utf8 {

  private Utf8() {}

  /**
   * The number of characters (code points) of {@code b[start, end)}, or {@code -1 - i} if the bytes
   * from position {@code start + i} on are not UTF-8 text; NUL is not text either.
   */
  public static int length(byte[] b, int start, int end) {
    int i = start;
    for (; i + 8 <= end; i += 8) {
      if (!ByteWords.isAscii(ByteWords.at(b, i))) {
        return lengthFrom(b, start, i, end);
      }
    }
    if (i < end) {
      if (end >= 8) {
        if (!ByteWords.isAscii(ByteWords.tailOfText(b, end, end - i))) {
          return lengthFrom(b, start, i, end);
        }
      } else {
        return lengthFrom(b, start, i, end);
      }
    }
    return end - start;
  }

  private static int lengthFrom(byte[] b, int start, int from, int end) {
    int count = from - start;
    int i = from;
    while (i < end) {
      int size = sizeAt(b, i, end);
      if (size == 0) {
        return -1 - (i - start);
      }
      i += size;
      count++;
    }
    return count;
  }

  /** The bytes of the character at the position, or 0 if there is none. */
  private static int sizeAt(byte[] b, int i, int end) {
    int first = b[i];
    if (first > 0) {
      return 1;
    }
    int value = first & 0xff;
    if (value >= 0xc2 && value < 0xe0) {
      return more(b, i + 1, end) ? 2 : 0;
    }
    if (value >= 0xe0 && value < 0xf0) {
      if (!more(b, i + 1, end) || !more(b, i + 2, end)) {
        return 0;
      }
      int second = b[i + 1] & 0xff;
      boolean overlong = value == 0xe0 && second < 0xa0;
      boolean surrogate = value == 0xed && second >= 0xa0;
      return overlong || surrogate ? 0 : 3;
    }
    if (value >= 0xf0 && value < 0xf5) {
      if (!more(b, i + 1, end) || !more(b, i + 2, end) || !more(b, i + 3, end)) {
        return 0;
      }
      int second = b[i + 1] & 0xff;
      boolean overlong = value == 0xf0 && second < 0x90;
      boolean tooHigh = value == 0xf4 && second >= 0x90;
      return overlong || tooHigh ? 0 : 4;
    }
    return 0;
  }

  private static boolean more(byte[] b, int i, int end) {
    return i < end && (b[i] & 0xc0) == 0x80;
  }
}
