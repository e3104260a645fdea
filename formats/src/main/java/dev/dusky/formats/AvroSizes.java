package dev.dusky.formats;

import dev.dusky.core.bytes.RandomContent;
import java.io.EOFException;
import java.io.IOException;

/**
 * Holds the sizes that an Avro object container file states against what is left of the file,
 * before the library allocates memory for them. Numbers are zigzag varints (Avro specification,
 * "Object Container Files").
 */
final class AvroSizes {

  private static final int SYNC = 16;
  private static final int MAGIC = 4;

  private final RandomContent content;
  private long at;

  AvroSizes(RandomContent content) {
    this.content = content;
  }

  /** Checks the metadata of the header. */
  void checkHeader() throws IOException {
    at = MAGIC;
    for (long entries = number(); entries != 0; entries = number()) {
      if (entries < 0) {
        number(); // a block of the map that gives its size in bytes too
      }
      for (long i = 0; i < Math.abs(entries); i++) {
        skip("the key of its metadata");
        skip("the value of its metadata");
      }
    }
  }

  /** Checks the block that begins at that byte. */
  void checkBlock(long position) throws IOException {
    at = position;
    long rows = number();
    long bytes = number();
    if (rows < 0 || bytes < 0 || bytes > content.size() - at - SYNC) {
      throw lying("its block", bytes);
    }
  }

  private void skip(String what) throws IOException {
    long bytes = number();
    if (bytes < 0 || bytes > content.size() - at) {
      throw lying(what, bytes);
    }
    at += bytes;
  }

  private IOException lying(String what, long bytes) {
    return new IOException(
        "%s says it has %,d bytes, but %,d bytes are left behind byte %,d"
            .formatted(what, bytes, content.size() - at, at));
  }

  private long number() throws IOException {
    byte[] one = new byte[1];
    long value = 0;
    for (int shift = 0; shift < 64; shift += 7) {
      if (content.read(at, one, 0, 1) != 1) {
        throw new EOFException("the file ends at byte %,d".formatted(at));
      }
      at++;
      value |= (long) (one[0] & 0x7f) << shift;
      if (one[0] >= 0) {
        return value >>> 1 ^ -(value & 1);
      }
    }
    throw new IOException("a number at byte %,d is too long".formatted(at));
  }
}
