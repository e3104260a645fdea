package dev.dusky.core.bytes;

import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;

/** Counts the bytes that pass. The count may be read from another thread. */
final class CountingStream extends FilterInputStream {

  private volatile long count;

  CountingStream(InputStream in) {
    super(in);
  }

  long count() {
    return count;
  }

  @Override
  public int read() throws IOException {
    int value = in.read();
    if (value >= 0) {
      add(1);
    }
    return value;
  }

  @Override
  public int read(byte[] buffer, int offset, int length) throws IOException {
    int read = in.read(buffer, offset, length);
    if (read > 0) {
      add(read);
    }
    return read;
  }

  /** One thread reads, so a plain addition to the volatile field loses nothing. */
  @SuppressWarnings("NonAtomicOperationOnVolatileField")
  private void add(int bytes) {
    count += bytes;
  }

  @Override
  public boolean markSupported() {
    return false;
  }
}
