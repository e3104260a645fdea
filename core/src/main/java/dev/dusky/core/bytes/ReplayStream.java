package dev.dusky.core.bytes;

import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.Arrays;

/**
 * Lets a parser read ahead and still gives back the bytes it has read, from a held position on. The
 * held bytes are bounded: beyond the limit only the head is kept. While nothing is held, the last
 * bytes stay all the same, since a parser says late where something began.
 */
public final class ReplayStream extends FilterInputStream {

  /** How much stays behind the position at least; more than a parser reads ahead. */
  private static final int TAIL = 64 << 10;

  private static final int HEAD = 64 << 10;

  private final int limit;
  private byte[] kept = new byte[4 * TAIL];
  private byte[] head;
  private long base;
  private int length;
  private long held = -1;

  /** A stream that holds up to that many bytes. */
  public ReplayStream(InputStream in, int limit) {
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
    int read = in.read(to, offset, Math.min(most, TAIL / 2));
    if (read > 0) {
      if (held >= 0 && base + length + read - held > limit + (long) TAIL) {
        int from = at(held);
        head = Arrays.copyOfRange(kept, from, Math.min(length, from + HEAD));
        held = -1;
      }
      if (held < 0 && length + read > kept.length) {
        drop(length - TAIL);
      }
      if (length + read > kept.length) {
        kept = Arrays.copyOf(kept, Math.max(length + read, kept.length * 2));
      }
      System.arraycopy(to, offset, kept, length, read);
      length += read;
    }
    return read;
  }

  private void drop(int bytes) {
    System.arraycopy(kept, bytes, kept, 0, length - bytes);
    length -= bytes;
    base += bytes;
  }

  /** Holds all from a position on that was read a moment ago. */
  public void hold(long from) {
    head = null;
    if (from < base) { // it began so long ago that its beginning is gone
      head = Arrays.copyOf(kept, Math.min(length, HEAD));
      held = -1;
      return;
    }
    held = from;
    if (from - base > kept.length / 2) {
      drop((int) (from - base));
    }
  }

  /** Releases the held bytes. */
  public void release() {
    held = -1;
    head = null;
  }

  /** Whether what is held became too long, so that only its {@link #head} is there. */
  public boolean cut() {
    return head != null;
  }

  /** The beginning of what became too long. */
  public byte[] head() {
    return head;
  }

  /** The kept bytes; {@link #at} says where a position of the stream is in them. */
  public byte[] bytes() {
    return kept;
  }

  /** Where a position of the stream is in {@link #bytes}. */
  public int at(long position) {
    return (int) (position - base);
  }
}
