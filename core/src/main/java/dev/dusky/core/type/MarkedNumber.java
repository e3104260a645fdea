package dev.dusky.core.type;

import java.nio.charset.StandardCharsets;

/** Turns a number with decimal and group marks into plain form, checking the groups strictly. */
public final class MarkedNumber {

  private final byte decimal;
  private final byte[] group;
  private final byte[] plain = new byte[SqlType.MOST_DIGITS * 2];

  /** A reader for numbers with these marks. */
  public MarkedNumber(NumberMarks marks) {
    decimal = (byte) marks.decimal();
    group = marks.group().getBytes(StandardCharsets.UTF_8);
  }

  /** The bytes of the last plain form. */
  public byte[] plain() {
    return plain;
  }

  /** Writes the plain form to {@link #plain} and gives its length, or -1 if it is malformed. */
  public int convert(byte[] b, int start, int end) {
    int length = 0;
    int digits = 0;
    boolean grouped = false;
    boolean fraction = false;
    for (int i = start; i < end; i++) {
      byte c = b[i];
      if (length == plain.length) {
        return -1;
      }
      if (c == decimal && !fraction) {
        if (grouped && digits != 3) {
          return -1;
        }
        fraction = true;
        plain[length++] = '.';
      } else if (group.length > 0 && isGroup(b, i, end)) {
        if (fraction || digits == 0 || digits > 3 || grouped && digits != 3) {
          return -1;
        }
        grouped = true;
        digits = 0;
        i += group.length - 1;
      } else if (c == '.' || c == ',') {
        return -1;
      } else {
        if (c >= '0' && c <= '9') {
          digits++;
        }
        plain[length++] = c;
      }
    }
    return grouped && !fraction && digits != 3 ? -1 : length;
  }

  private boolean isGroup(byte[] b, int at, int end) {
    if (end - at < group.length) {
      return false;
    }
    for (int i = 0; i < group.length; i++) {
      if (b[at + i] != group[i]) {
        return false;
      }
    }
    return true;
  }
}
