package dev.dusky.core.source;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.util.Arrays;

/** Text in UTF-8 that grows at its end: words, numbers and times. Hot. */
final class TextBuffer {

  private static final long DAY = 86_400_000_000L;

  private byte[] text;
  private int used;

  TextBuffer(int size) {
    text = new byte[size];
  }

  /** How many bytes it has. */
  int length() {
    return used;
  }

  /** Moves all of it into a stream. */
  void moveTo(OutputStream out) throws IOException {
    out.write(text, 0, used);
    used = 0;
  }

  private void room(int more) {
    if (text.length - used < more) {
      text = Arrays.copyOf(text, Math.max(used + more, text.length * 2));
    }
  }

  void put(char ascii) {
    room(1);
    text[used++] = (byte) ascii;
  }

  void put(String any) {
    byte[] bytes = any.getBytes(StandardCharsets.UTF_8);
    put(bytes, 0, bytes.length);
  }

  void put(byte[] from, int start, int length) {
    room(length);
    System.arraycopy(from, start, text, used, length);
    used += length;
  }

  /** Puts bytes with spaces for line ends. */
  void putOnOneLine(byte[] from, int start, int length) {
    int begin = used;
    put(from, start, length);
    for (int i = begin; i < used; i++) {
      if (text[i] == '\n' || text[i] == '\r') {
        text[i] = ' ';
      }
    }
  }

  /** Puts bytes in quotes; false, with nothing put, if one of them has to be escaped. */
  boolean putQuoted(byte[] from, int start, int length) {
    room(length + 2);
    int at = used;
    text[at++] = '"';
    for (int i = start; i < start + length; i++) {
      byte c = from[i];
      if (c >= 0 && c < ' ' || c == '"' || c == '\\') {
        return false;
      }
      text[at++] = c;
    }
    text[at++] = '"';
    used = at;
    return true;
  }

  /** Puts a whole number. */
  void putNumber(long value) {
    putDecimal(value, 0);
  }

  /** Puts an unscaled number with that many decimals. */
  void putDecimal(long unscaled, int scale) {
    if (unscaled == Long.MIN_VALUE) {
      put(java.math.BigDecimal.valueOf(unscaled, scale).toPlainString());
      return;
    }
    room(24 + scale);
    long rest = Math.abs(unscaled);
    if (unscaled < 0) {
      text[used++] = '-';
    }
    int digits = Math.max(digits(rest), scale + 1);
    int end = used + digits + (scale > 0 ? 1 : 0);
    int point = scale > 0 ? end - 1 - scale : -1;
    for (int at = end - 1; at >= used; at--) {
      if (at == point) {
        text[at] = '.';
      } else {
        text[at] = (byte) ('0' + rest % 10);
        rest /= 10;
      }
    }
    used = end;
  }

  private static int digits(long value) {
    int digits = 1;
    for (long rest = value; rest >= 10; rest /= 10) {
      digits++;
    }
    return digits;
  }

  private void padded(int value, int digits) {
    int rest = value;
    for (int at = used + digits - 1; at >= used; at--) {
      text[at] = (byte) ('0' + rest % 10);
      rest /= 10;
    }
    used += digits;
  }

  /** Puts a day of the years 1 to 9999. */
  void putDate(long days) {
    room(10);
    LocalDate date = LocalDate.ofEpochDay(days);
    padded(date.getYear(), 4);
    text[used++] = '-';
    padded(date.getMonthValue(), 2);
    text[used++] = '-';
    padded(date.getDayOfMonth(), 2);
  }

  /** Puts a time of the day; without a fraction if it has none. */
  void putTime(long micros) {
    room(15);
    int seconds = (int) (micros / 1_000_000);
    padded(seconds / 3600, 2);
    text[used++] = ':';
    padded(seconds / 60 % 60, 2);
    text[used++] = ':';
    padded(seconds % 60, 2);
    int fraction = (int) (micros % 1_000_000);
    if (fraction > 0) {
      text[used++] = '.';
      padded(fraction, 6);
      while (text[used - 1] == '0') {
        used--;
      }
    }
  }

  /** Puts a day and a time. */
  void putTimestamp(long micros) {
    putDate(Math.floorDiv(micros, DAY));
    put(' ');
    putTime(Math.floorMod(micros, DAY));
  }
}
