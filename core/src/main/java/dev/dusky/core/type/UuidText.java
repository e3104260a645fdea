package dev.dusky.core.type;

/** Reads UUIDs (RFC 9562): 32 hexadecimal digits, with the four hyphens or without. Hot. */
public final class UuidText {

  private long high;
  private long low;

  /** Reads {@code b[start, end)}; false if it is not a UUID. */
  public boolean parse(byte[] b, int start, int end) {
    boolean hyphens = end - start == 36;
    if (!hyphens && end - start != 32) {
      return false;
    }
    long value = 0;
    int digits = 0;
    for (int i = start; i < end; i++) {
      int at = i - start;
      if (hyphens && (at == 8 || at == 13 || at == 18 || at == 23)) {
        if (b[i] != '-') {
          return false;
        }
        continue;
      }
      int digit = HexText.digit(b[i]);
      if (digit < 0) {
        return false;
      }
      value = value << 4 | digit;
      if (++digits == 16) {
        high = value;
        value = 0;
      }
    }
    low = value;
    return digits == 32;
  }

  /** The first 64 bits of the last value. */
  public long high() {
    return high;
  }

  /** The last 64 bits of the last value. */
  public long low() {
    return low;
  }
}
