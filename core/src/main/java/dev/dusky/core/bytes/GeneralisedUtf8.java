package dev.dusky.core.bytes;

/** Decodes well-formed UTF-8 in which lone surrogates are allowed. */
final class GeneralisedUtf8 {

  private GeneralisedUtf8() {}

  static int codePointAt(byte[] b, int i) {
    int first = b[i] & 0xff;
    if (first < 0x80) {
      return first;
    }
    if (first < 0xe0) {
      return (first & 0x1f) << 6 | b[i + 1] & 0x3f;
    }
    if (first < 0xf0) {
      return (first & 0x0f) << 12 | (b[i + 1] & 0x3f) << 6 | b[i + 2] & 0x3f;
    }
    return (first & 0x07) << 18
        | (b[i + 1] & 0x3f) << 12
        | (b[i + 2] & 0x3f) << 6
        | b[i + 3] & 0x3f;
  }

  static int length(int codePoint) {
    return codePoint < 0x80 ? 1 : codePoint < 0x800 ? 2 : codePoint < 0x10000 ? 3 : 4;
  }
}
