package dev.dusky.core.bytes;

import java.io.InputStream;
import java.util.Arrays;

/** UTF-8 stays as it is. */
final class SameBytes implements Transcoding {

  @Override
  public InputStream decode(InputStream source) {
    return source;
  }

  @Override
  public boolean enterable() {
    return true;
  }

  @Override
  public int originalLength(byte[] utf8, int from, int to) {
    return to - from;
  }

  @Override
  public byte[] original(byte[] utf8, int from, int to) {
    return Arrays.copyOfRange(utf8, from, to);
  }
}
