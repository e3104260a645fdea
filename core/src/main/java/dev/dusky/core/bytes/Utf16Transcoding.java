package dev.dusky.core.bytes;

import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;

/** UTF-16 of either byte order; lone surrogates pass as they are. */
final class Utf16Transcoding implements Transcoding {

  private final boolean highFirst;

  Utf16Transcoding(boolean highFirst) {
    this.highFirst = highFirst;
  }

  @Override
  public InputStream decode(InputStream source) {
    return new TranscodingStream(source) {
      @Override
      int convert(byte[] block, int length, boolean last) throws IOException {
        int i = 0;
        while (i + 1 < length) {
          int unit = unit(block, i);
          if (Character.isHighSurrogate((char) unit)) {
            if (i + 3 >= length && !last) {
              break;
            }
            if (i + 3 < length && Character.isLowSurrogate((char) unit(block, i + 2))) {
              put(Character.toCodePoint((char) unit, (char) unit(block, i + 2)));
              i += 4;
              continue;
            }
          }
          put(unit);
          i += 2;
        }
        if (last && i < length) {
          throw new EOFException("UTF-16 text ends in the middle of a character");
        }
        return i;
      }
    };
  }

  private int unit(byte[] block, int i) {
    int high = block[highFirst ? i : i + 1] & 0xff;
    int low = block[highFirst ? i + 1 : i] & 0xff;
    return high << 8 | low;
  }

  @Override
  public boolean enterable() {
    return false;
  }

  @Override
  public int originalLength(byte[] utf8, int from, int to) {
    int units = 0;
    for (int i = from; i < to; i++) {
      int value = utf8[i] & 0xff;
      if ((value & 0xc0) != 0x80) {
        units += value >= 0xf0 ? 2 : 1;
      }
    }
    return units * 2;
  }

  @Override
  public byte[] original(byte[] utf8, int from, int to) {
    byte[] result = new byte[originalLength(utf8, from, to)];
    int at = 0;
    int position = from;
    while (position < to) {
      int codePoint = GeneralisedUtf8.codePointAt(utf8, position);
      position += GeneralisedUtf8.length(codePoint);
      for (char unit : Character.toChars(codePoint)) {
        result[highFirst ? at : at + 1] = (byte) (unit >> 8);
        result[highFirst ? at + 1 : at] = (byte) unit;
        at += 2;
      }
    }
    return result;
  }
}
