package dev.dusky.depots.azure;

import com.azure.core.exception.HttpResponseException;
import dev.dusky.core.bytes.BulkStream;
import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.util.concurrent.TimeoutException;
import java.util.function.Function;

/**
 * A blob's bytes from a position on, fetched in ranges. A connection that breaks is an exception of
 * input, so that reading resumes; a refusal is a failure.
 */
final class AzureStream extends BulkStream {

  /** The bytes of one request. */
  private static final int RANGE = 8 << 20;

  /** Fetches a range. */
  @FunctionalInterface
  interface Ranges {
    byte[] fetch(long position, int length);
  }

  private final Ranges ranges;
  private final Function<RuntimeException, Failure> failure;
  private final long size;
  private byte[] fetched = new byte[0];
  private int taken;
  private long position;

  /**
   * A stream.
   *
   * @param failure the failure of a refusal
   * @param from the position of its first byte
   * @param size the size of the blob
   */
  AzureStream(Ranges ranges, Function<RuntimeException, Failure> failure, long from, long size) {
    this.ranges = ranges;
    this.failure = failure;
    this.position = from;
    this.size = size;
  }

  @Override
  public int read(byte[] buffer, int offset, int length) throws IOException {
    if (taken == fetched.length) {
      if (position >= size) {
        return -1;
      }
      fetched = fetch((int) Math.min(RANGE, size - position));
      position += fetched.length;
      taken = 0;
    }
    int count = Math.min(length, fetched.length - taken);
    System.arraycopy(fetched, taken, buffer, offset, count);
    taken += count;
    return count;
  }

  private byte[] fetch(int length) throws IOException {
    try {
      byte[] bytes = ranges.fetch(position, length);
      if (bytes.length != length) {
        throw new IOException("%,d of %,d bytes came".formatted(bytes.length, length));
      }
      return bytes;
    } catch (RuntimeException e) {
      throw resumable(e);
    }
  }

  private IOException resumable(RuntimeException e) {
    IOException broken = null;
    for (Throwable cause = e; cause != null; cause = cause.getCause()) {
      if (cause instanceof HttpResponseException answer && answer.getResponse() != null) {
        throw failure.apply(answer);
      }
      if (cause instanceof IOException || cause instanceof TimeoutException) {
        broken = new IOException(cause.getMessage(), e);
      }
    }
    if (broken != null) {
      return broken;
    }
    throw failure.apply(e);
  }
}
