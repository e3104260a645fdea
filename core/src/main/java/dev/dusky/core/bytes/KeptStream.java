package dev.dusky.core.bytes;

import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.Arrays;

/**
 * Lets a parser read ahead and still gives back the bytes it has read, from a kept position on.
 * What is kept is bounded: of more than the limit only the beginning stays.
 */
public final class KeptStream extends FilterInputStream {

  private final int limit;
  private byte[] kept = new byte[64 << 10];
  private long base;
  private int length;
  private long position;

  /** A stream that keeps up to so many bytes. */
  public KeptStream(InputStream in, int limit) {
    super(in);
    this.limit = limit;
  }

  @Override
  public int read() throws IOException {
    byte[] one = new byte[1];
    return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
  }

  @Override
  public int read(byte[] to, int offset, int most) throws IOException {
    int read = in.read(to, offset, most);
    if (read > 0) {
      if (position == base + length && length + read <= limit + (1 << 20)) {
        if (kept.length < length + read) {
          kept = Arrays.copyOf(kept, Math.max(length + read, kept.length * 2));
        }
        System.arraycopy(to, offset, kept, length, read);
        length += read;
      }
      position += read;
    }
    return read;
  }

  /** Forgets what stands before a position. */
  public void keepFrom(long from) {
    int drop = (int) Math.min(from - base, length);
    if (drop > 0) {
      System.arraycopy(kept, drop, kept, 0, length - drop);
      length -= drop;
    }
    base = length == 0 ? Math.min(from, position) : base + drop;
    if (length == 0) {
      base = Math.max(base, from);
    }
  }

  /** The kept bytes; {@link #at} says where a position of the stream stands in them. */
  public byte[] bytes() {
    return kept;
  }

  /** Where a position of the stream stands in {@link #bytes}. */
  public int at(long streamPosition) {
    return (int) (streamPosition - base);
  }

  /** Whether all bytes up to a position are kept. */
  public boolean has(long to) {
    return to <= base + length;
  }
}
