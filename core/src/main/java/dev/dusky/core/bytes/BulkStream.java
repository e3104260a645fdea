package dev.dusky.core.bytes;

import java.io.IOException;
import java.io.InputStream;

/** An input stream that is made to be read in bulk; single bytes go through the same method. */
public abstract class BulkStream extends InputStream {

  @Override
  public final int read() throws IOException {
    byte[] one = new byte[1];
    return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
  }

  @Override
  public abstract int read(byte[] buffer, int offset, int length) throws IOException;
}
