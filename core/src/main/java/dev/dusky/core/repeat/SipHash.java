package dev.dusky.core.repeat;

/**
 * SipHash-2-4 with 128 bits of result, after Jean-Philippe Aumasson and Daniel J. Bernstein,
 * "SipHash: a fast short-input PRF" (2012), and their reference implementation for the wide result.
 * Takes whole words. Reused from message to message. Hot.
 */
final class SipHash {

  private final RowSecret key;
  private long first;
  private long second;

  SipHash(RowSecret key) {
    this.key = key;
  }

  /**
   * Hashes a message of whole words. One loop, its state in local variables: two rounds for each
   * word and for the length, then four for each half of the result.
   */
  void hash(long[] words, int count) {
    long a = key.first() ^ 0x736f6d6570736575L;
    long b = key.second() ^ 0x646f72616e646f6dL ^ 0xee;
    long c = key.first() ^ 0x6c7967656e657261L;
    long d = key.second() ^ 0x7465646279746573L;
    for (int i = 0; i <= count + 4; i++) {
      long word = i < count ? words[i] : i == count ? 8L * count << 56 : 0;
      d ^= word;
      if (i == count + 1) {
        c ^= 0xee;
      } else if (i == count + 3) {
        first = a ^ b ^ c ^ d;
        b ^= 0xdd;
      }
      for (int r = 0; r < 2; r++) {
        a += b;
        b = Long.rotateLeft(b, 13) ^ a;
        a = Long.rotateLeft(a, 32);
        c += d;
        d = Long.rotateLeft(d, 16) ^ c;
        a += d;
        d = Long.rotateLeft(d, 21) ^ a;
        c += b;
        b = Long.rotateLeft(b, 17) ^ c;
        c = Long.rotateLeft(c, 32);
      }
      a ^= word;
    }
    second = a ^ b ^ c ^ d;
  }

  /** The first 64 bits of the last result, as the reference writes them. */
  long first() {
    return first;
  }

  /** The last 64 bits of it. */
  long second() {
    return second;
  }
}
