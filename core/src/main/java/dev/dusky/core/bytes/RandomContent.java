package dev.dusky.core.bytes;

import java.io.Closeable;
import java.io.IOException;

/** A file's bytes at any position, for formats that begin with their end. */
public interface RandomContent extends Closeable {

  /** How many bytes there are. */
  long size();

  /**
   * Reads bytes from a position; safe for use by several threads.
   *
   * @return how many were read, 0 only at the end
   */
  int read(long position, byte[] to, int offset, int length) throws IOException;

  /** Reads exactly that many bytes from a position. */
  default byte[] bytes(long position, int length) throws IOException {
    byte[] result = new byte[length];
    int done = 0;
    while (done < length) {
      int read = read(position + done, result, done, length - done);
      if (read <= 0) {
        throw new java.io.EOFException("the file ends at byte " + (position + done));
      }
      done += read;
    }
    return result;
  }
}
