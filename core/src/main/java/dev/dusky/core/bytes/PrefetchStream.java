package dev.dusky.core.bytes;

import dev.dusky.core.concurrent.Worker;
import java.io.IOException;
import java.io.InputStream;
import java.io.InterruptedIOException;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;

/**
 * Reads another stream ahead on its own thread, so that decompressing overlaps with what is done
 * with the bytes. Holds a few recycled blocks, whatever the length of the stream.
 */
final class PrefetchStream extends BulkStream {

  private static final int BLOCK = 512 << 10;
  private static final int BLOCKS = 4;

  /** Bytes in transit; a length below 0 is the end, with or without a failure. */
  private record Block(byte[] bytes, int length, Throwable failure) {}

  private final InputStream source;
  private final BlockingQueue<Block> full = new ArrayBlockingQueue<>(BLOCKS + 1);
  private final BlockingQueue<byte[]> empty = new ArrayBlockingQueue<>(BLOCKS);
  private final Worker unpacker = new Worker("dusky-unpacker", this::readAll);
  private Block current = new Block(new byte[0], 0, null);
  private int at;
  private volatile boolean closed;

  /** Starts reading the source, which is closed with this stream. */
  public PrefetchStream(InputStream source) {
    this.source = source;
    for (int i = 0; i < BLOCKS; i++) {
      empty.add(new byte[BLOCK]);
    }
    unpacker.start();
  }

  private void readAll() {
    Throwable failure = null;
    try {
      while (!closed) { // the source may have swallowed the interrupt
        byte[] bytes = empty.take();
        int length = source.readNBytes(bytes, 0, BLOCK);
        if (length > 0) {
          full.add(new Block(bytes, length, null));
        }
        if (length < BLOCK) {
          break;
        }
      }
    } catch (Throwable e) { // whatever it is, it must reach the caller of read()
      failure = e;
    }
    full.add(new Block(null, -1, failure)); // there is room for it behind all blocks
  }

  @Override
  public int read(byte[] buffer, int offset, int length) throws IOException {
    if (length == 0) {
      return 0;
    }
    while (at == current.length()) {
      if (current.bytes().length > 0) {
        empty.add(current.bytes());
      }
      current = take();
      at = 0;
    }
    if (current.length() < 0) {
      return end(current.failure());
    }
    int count = Math.min(length, current.length() - at);
    System.arraycopy(current.bytes(), at, buffer, offset, count);
    at += count;
    return count;
  }

  private Block take() throws IOException {
    try {
      return full.take();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new InterruptedIOException("stopped while reading");
    }
  }

  private static int end(Throwable failure) throws IOException {
    if (failure == null) {
      return -1;
    }
    try {
      throw Worker.rethrow(failure);
    } catch (InterruptedException e) {
      throw (IOException) new InterruptedIOException("stopped while reading").initCause(e);
    }
  }

  /** Stops reading ahead, waits for the thread and closes the source. */
  @Override
  public void close() throws IOException {
    closed = true;
    unpacker.interrupt();
    unpacker.join();
    source.close();
  }
}
