package dev.dusky.core.bytes;

import dev.dusky.core.layout.Encoding;
import java.io.InputStream;
import java.nio.charset.Charset;
import java.util.HashMap;
import java.util.Map;

/** Encodings of one byte a character. Unmapped bytes become U+DC00 plus the byte. */
final class SingleByteTranscoding implements Transcoding {

  private static final int ESCAPED = 0xdc00;

  private final int[] codePoints = new int[256];
  private final Map<Integer, Byte> bytes = new HashMap<>();

  SingleByteTranscoding(Encoding encoding) {
    Charset charset = Charset.forName(encoding.label());
    for (int value = 0; value < 256; value++) {
      int codePoint = new String(new byte[] {(byte) value}, charset).codePointAt(0);
      codePoints[value] = codePoint == 0xfffd ? ESCAPED + value : codePoint;
      bytes.put(codePoints[value], (byte) value);
    }
  }

  @Override
  public InputStream decode(InputStream source) {
    return new TranscodingStream(source) {
      @Override
      int convert(byte[] block, int length, boolean last) {
        for (int i = 0; i < length; i++) {
          put(codePoints[block[i] & 0xff]);
        }
        return length;
      }
    };
  }

  @Override
  public boolean enterable() {
    return true;
  }

  @Override
  public int originalLength(byte[] utf8, int from, int to) {
    int count = 0;
    for (int i = from; i < to; i++) {
      if ((utf8[i] & 0xc0) != 0x80) {
        count++;
      }
    }
    return count;
  }

  @Override
  public byte[] original(byte[] utf8, int from, int to) {
    byte[] result = new byte[originalLength(utf8, from, to)];
    int position = from;
    for (int i = 0; i < result.length; i++) {
      int codePoint = GeneralisedUtf8.codePointAt(utf8, position);
      position += GeneralisedUtf8.length(codePoint);
      result[i] = bytes.get(codePoint);
    }
    return result;
  }
}
