package dev.dusky.core.bytes;

import java.io.IOException;
import java.io.InputStream;

/** The buffering shared by all transcodings: subclasses turn a block of input into UTF-8. */
abstract class TranscodingStream extends BulkStream {

  private static final int BLOCK = 32 << 10;

  private final InputStream source;
  private final byte[] in = new byte[BLOCK];

  /** Four bytes of output at most for each byte of input. */
  private final byte[] out = new byte[BLOCK * 4];

  private int inLength;
  private int outPosition;
  private int outLength;
  private boolean ended;

  TranscodingStream(InputStream source) {
    this.source = source;
  }

  /**
   * Converts {@code in[0, length)} with {@link #put}.
   *
   * @return how many input bytes were used; the rest comes again with more behind it
   */
  abstract int convert(byte[] block, int length, boolean last) throws IOException;

  /** Adds a code point, also a lone surrogate, to the output. */
  final void put(int codePoint) {
    if (codePoint < 0x80) {
      out[outLength++] = (byte) codePoint;
    } else if (codePoint < 0x800) {
      out[outLength++] = (byte) (0xc0 | codePoint >> 6);
      out[outLength++] = (byte) (0x80 | codePoint & 0x3f);
    } else if (codePoint < 0x10000) {
      out[outLength++] = (byte) (0xe0 | codePoint >> 12);
      out[outLength++] = (byte) (0x80 | codePoint >> 6 & 0x3f);
      out[outLength++] = (byte) (0x80 | codePoint & 0x3f);
    } else {
      out[outLength++] = (byte) (0xf0 | codePoint >> 18);
      out[outLength++] = (byte) (0x80 | codePoint >> 12 & 0x3f);
      out[outLength++] = (byte) (0x80 | codePoint >> 6 & 0x3f);
      out[outLength++] = (byte) (0x80 | codePoint & 0x3f);
    }
  }

  @Override
  public final int read(byte[] buffer, int offset, int length) throws IOException {
    while (outPosition == outLength) {
      if (ended) {
        return -1;
      }
      refill();
    }
    int count = Math.min(length, outLength - outPosition);
    System.arraycopy(out, outPosition, buffer, offset, count);
    outPosition += count;
    return count;
  }

  private void refill() throws IOException {
    int read = source.read(in, inLength, in.length - inLength);
    if (read < 0) {
      ended = true;
    } else {
      inLength += read;
    }
    outPosition = 0;
    outLength = 0;
    int used = convert(in, inLength, ended);
    System.arraycopy(in, used, in, 0, inLength - used);
    inLength -= used;
  }

  @Override
  public final void close() throws IOException {
    source.close();
  }
}
