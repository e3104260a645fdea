package dev.dusky.core.type;

import java.util.Arrays;
import java.util.Base64;

/** Reads binary data from its text notation. */
public final class BinaryText {

  private final boolean base64;

  private BinaryText(boolean base64) {
    this.base64 = base64;
  }

  /** Hexadecimal digits, with or without {@code \x} or {@code 0x} before them. */
  public static BinaryText hex() {
    return new BinaryText(false);
  }

  /** Base64 of RFC 4648, section 4. */
  public static BinaryText base64() {
    return new BinaryText(true);
  }

  /** The data of {@code b[start, end)}, or null if it is not in this notation. */
  public byte[] parse(byte[] b, int start, int end) {
    if (base64) {
      try {
        return Base64.getDecoder().decode(Arrays.copyOfRange(b, start, end));
      } catch (IllegalArgumentException e) {
        return null; // the caller makes it a reject with the value and the place
      }
    }
    int from = start;
    if (end - start >= 2 && (b[start] == '\\' || b[start] == '0') && b[start + 1] == 'x') {
      from += 2;
    }
    if ((end - from) % 2 != 0) {
      return null;
    }
    byte[] result = new byte[(end - from) / 2];
    for (int i = 0; i < result.length; i++) {
      int high = HexText.digit(b[from + 2 * i]);
      int low = HexText.digit(b[from + 2 * i + 1]);
      if ((high | low) < 0) {
        return null;
      }
      result[i] = (byte) (high << 4 | low);
    }
    return result;
  }
}
