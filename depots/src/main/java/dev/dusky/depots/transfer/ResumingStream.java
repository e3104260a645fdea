package dev.dusky.depots.transfer;

import dev.dusky.core.bytes.BulkStream;
import dev.dusky.core.bytes.StorageException;
import java.io.IOException;
import java.io.InputStream;

/**
 * A remote object's bytes. When the connection breaks, reading continues from where it was, a few
 * times in a row at most; each byte of progress starts that count again.
 */
public final class ResumingStream extends BulkStream {

  private static final int MOST_TRIES = 6;

  /** An open connection and how to drop it without reading the rest. */
  public record Source(InputStream in, Runnable abort) {}

  /** Opens the object at a position. */
  @FunctionalInterface
  public interface Opener {
    Source open(long from);
  }

  private final String path;
  private final long size;
  private final Opener opener;
  private Source source;
  private long position;
  private int failures;

  public ResumingStream(String path, long size, Opener opener) {
    this.path = path;
    this.size = size;
    this.opener = opener;
    this.source = size == 0 ? null : opener.open(0);
  }

  @Override
  public int read(byte[] buffer, int offset, int length) throws IOException {
    while (position < size) {
      try {
        int read = source.in().read(buffer, offset, length);
        if (read >= 0) {
          position += read;
          failures = 0;
          return read;
        }
        resume(
            new IOException(
                "the connection ended after %,d of %,d bytes".formatted(position, size)));
      } catch (StorageException e) {
        throw e;
      } catch (IOException e) {
        resume(e);
      }
    }
    return -1;
  }

  private void resume(IOException cause) throws StorageException {
    if (++failures == MOST_TRIES) {
      throw new StorageException(
          "%s broke off %d times at byte %,d of %,d: %s"
              .formatted(path, failures, position, size, cause.getMessage()),
          cause);
    }
    source.abort().run();
    source = opener.open(position);
  }

  @Override
  public void close() {
    if (source != null) {
      source.abort().run();
    }
  }
}
