package dev.dusky.core.bytes;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;

/**
 * Eight bytes at a time (SWAR). The first byte is the lowest. Exact byte match after Hacker's
 * Delight, 2nd ed., section 6-1; eight digits at once after Daniel Lemire, "Quickly parsing eight
 * digits" (2018). Hot.
 */
public final class ByteWords {

  private static final VarHandle LONGS =
      MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);
  private static final long SEVENS = 0x7f7f7f7f7f7f7f7fL;
  private static final long HIGHS = 0x8080808080808080L;
  private static final long ONES = 0x0101010101010101L;
  private static final long ZEROES = 0x3030303030303030L;
  private static final long LETTERS = 0x6161616161616161L;

  private ByteWords() {}

  /** The eight bytes from a position on. */
  public static long at(byte[] b, int position) {
    return (long) LONGS.get(b, position);
  }

  /** Writes eight bytes. */
  public static void put(byte[] b, int position, long word) {
    LONGS.set(b, position, word);
  }

  /** Eight times the same byte. */
  public static long repeat(int value) {
    return (value & 0xffL) * ONES;
  }

  /** A word whose high bits are clear exactly where {@code word} has the pattern's byte. */
  public static long misses(long word, long pattern) {
    long difference = word ^ pattern;
    return (difference & SEVENS) + SEVENS | difference;
  }

  /** The clear high bits of {@link #misses} as the lowest eight bits of the result. */
  public static long hits(long misses) {
    return ((~misses & HIGHS) >>> 7) * 0x0102040810204080L >>> 56;
  }

  /** How many bytes precede the first that {@link #misses} shows a hit for; 8 if none is. */
  public static int firstHit(long misses) {
    return Long.numberOfTrailingZeros(~misses & HIGHS) >>> 3;
  }

  /** How many bytes from the first on are the pattern's. */
  public static int sameAhead(long word, long pattern) {
    return Long.numberOfTrailingZeros(word ^ pattern) >>> 3;
  }

  /** How many bytes from the last on backwards are the pattern's. */
  public static int sameBehind(long word, long pattern) {
    return Long.numberOfLeadingZeros(word ^ pattern) >>> 3;
  }

  /** Whether any byte is outside ASCII. */
  public static boolean anyHigh(long word) {
    return (word & HIGHS) != 0;
  }

  /** Whether all eight bytes are ASCII characters other than NUL. */
  public static boolean isAscii(long word) {
    return ((word - ONES | word) & HIGHS) == 0;
  }

  /** The last {@code length} of the bytes before {@code end}, 1 to 8, with letters before them. */
  public static long tailOfText(byte[] b, int end, int length) {
    long keep = -1L << 64 - 8 * length;
    return at(b, end - 8) & keep | LETTERS & ~keep;
  }

  /** The last {@code length} of the bytes before {@code end}, 1 to 8, with zeroes before them. */
  public static long tailOfDigits(byte[] b, int end, int length) {
    long keep = -1L << 64 - 8 * length;
    return at(b, end - 8) & keep | ZEROES & ~keep;
  }

  /** Takes the byte before the last {@code behind} out of digits and puts a zero in front. */
  public static long without(long digits, int behind) {
    long after = behind == 0 ? 0 : -1L << 64 - 8 * behind;
    return digits & after | digits << 8 & ~after | 0x30;
  }

  /** Whether all eight bytes are decimal digits. */
  public static boolean areDigits(long word) {
    return ((word & 0xf0f0f0f0f0f0f0f0L) ^ ZEROES
            | (word + 0x0606060606060606L & 0xf0f0f0f0f0f0f0f0L) ^ ZEROES)
        == 0;
  }

  /** How many bytes from the first on are decimal digits. */
  public static int digitsAhead(long word) {
    long values = word ^ ZEROES;
    long others = ((values & SEVENS) + 0x7676767676767676L | values) & HIGHS;
    return Long.numberOfTrailingZeros(others) >>> 3;
  }

  /** The number that eight decimal digits make. */
  public static long number(long digits) {
    long pairs = (digits & 0x0f0f0f0f0f0f0f0fL) * 2561 >>> 8;
    long fours = (pairs & 0x00ff00ff00ff00ffL) * 6_553_601 >>> 16;
    return (fours & 0x0000ffff0000ffffL) * 42_949_672_960_001L >>> 32;
  }
}
