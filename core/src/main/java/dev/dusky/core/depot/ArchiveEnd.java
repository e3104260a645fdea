package dev.dusky.core.depot;

import dev.dusky.core.bytes.RandomContent;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;

/**
 * The end record of a zip archive (PKWARE APPNOTE 4.3.16), which says how many entries its
 * directory has. The library that reads the directory stops without a word where it is damaged.
 *
 * @param entries how many there are; {@link #MANY} or more if it says only that
 */
record ArchiveEnd(int entries) {

  /** Means a number that does not fit. */
  private static final int MANY = 0xffff;

  private static final int MARK = 0x06054b50;
  private static final int LENGTH = 22;

  /** Finds the end record. */
  static ArchiveEnd of(RandomContent content) throws IOException {
    int length = (int) Math.min(content.size(), LENGTH + MANY);
    ByteBuffer tail =
        ByteBuffer.wrap(content.bytes(content.size() - length, length))
            .order(ByteOrder.LITTLE_ENDIAN);
    for (int at = length - LENGTH; at >= 0; at--) {
      if (tail.getInt(at) == MARK && tail.getShort(at + 20) <= length - LENGTH - at) {
        return new ArchiveEnd(tail.getShort(at + 10) & MANY);
      }
    }
    throw new IOException("it has no end record; it may be cut short");
  }

  /** Fails unless that many entries were found. */
  void check(int found) throws IOException {
    boolean same = entries == MANY ? found >= MANY : entries == found;
    if (!same) {
      throw new IOException(
          "its end record says it has %,d entries, but its directory shows %,d"
              .formatted(entries, found));
    }
  }
}
