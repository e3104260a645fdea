package dev.dusky.lake.file;

import java.io.IOException;
import java.io.OutputStream;
import org.apache.iceberg.io.PositionOutputStream;

/** A stream that knows its position; what closing it means is the store's business. */
abstract class CountedOutput extends PositionOutputStream {

  private final OutputStream out;
  private long position;
  private boolean closed;

  CountedOutput(OutputStream out) {
    this.out = out;
  }

  @Override
  public final long getPos() {
    return position;
  }

  @Override
  public final void write(int b) throws IOException {
    out.write(b);
    position++;
  }

  @Override
  public final void write(byte[] from, int start, int length) throws IOException {
    out.write(from, start, length);
    position += length;
  }

  @Override
  public final void flush() throws IOException {
    out.flush();
  }

  @Override
  public final void close() throws IOException {
    if (!closed) {
      closed = true;
      store(out);
    }
  }

  /** Closes the stream below and makes the file durable; called once. */
  abstract void store(OutputStream written) throws IOException;
}
