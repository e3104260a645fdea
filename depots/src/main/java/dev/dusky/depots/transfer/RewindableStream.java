package dev.dusky.depots.transfer;

import dev.dusky.core.bytes.BulkStream;
import java.io.IOException;
import java.io.InputStream;

/** A stream that can be reset to a mark by opening its source again, however much was read. */
public final class RewindableStream extends BulkStream {

  /** Opens the source behind that many bytes. */
  @FunctionalInterface
  public interface Source {
    /** The source's bytes from that position on. */
    InputStream open(long position) throws IOException;
  }

  private final Source source;
  private InputStream in;
  private long position;
  private long marked;

  /** A stream from the source's beginning. */
  public RewindableStream(Source source) throws IOException {
    this.source = source;
    this.in = source.open(0);
  }

  @Override
  public int read(byte[] buffer, int offset, int length) throws IOException {
    int read = in.read(buffer, offset, length);
    position += Math.max(0, read);
    return read;
  }

  @Override
  public boolean markSupported() {
    return true;
  }

  @Override
  public synchronized void mark(int limit) {
    marked = position;
  }

  @Override
  public synchronized void reset() throws IOException {
    in.close();
    in = source.open(marked);
    position = marked;
  }

  @Override
  public void close() throws IOException {
    in.close();
  }
}
