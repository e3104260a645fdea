package dev.dusky.core.depot;

import dev.dusky.core.bytes.BulkStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.InterruptedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.function.LongConsumer;

/**
 * What all uploads of one staging share: a number of connections, which files and the parts of
 * large ones take in turn, a rate that they together keep, and the count of bytes sent.
 */
public final class Uplink implements AutoCloseable {

  private final int connections;
  private final Semaphore free;
  private final long bytesPerSecond;
  private final LongConsumer sent;
  private ExecutorService threads;
  private long nextNanos;

  /**
   * An uplink.
   *
   * @param connections how many requests are under way at a time
   * @param bytesPerSecond the rate of all of them together; 0 for any
   * @param sent called with each number of bytes sent, from several threads
   */
  public Uplink(int connections, long bytesPerSecond, LongConsumer sent) {
    this.connections = connections;
    this.free = new Semaphore(connections, true);
    this.bytesPerSecond = bytesPerSecond;
    this.sent = sent;
    this.nextNanos = System.nanoTime();
  }

  /** One connection for a small file that nobody watches. */
  public static Uplink single() {
    return new Uplink(1, 0, bytes -> {});
  }

  /** Does one request, once a connection is free. */
  public <T> T request(Callable<T> work) throws IOException {
    try {
      free.acquire();
    } catch (InterruptedException e) {
      throw interrupted();
    }
    try {
      return work.call();
    } catch (IOException | RuntimeException e) {
      throw e;
    } catch (Exception e) {
      throw new IllegalStateException("a request failed in an unforeseen way", e);
    } finally {
      free.release();
    }
  }

  /**
   * Does several pieces of work concurrently and gives their results in their order. After the
   * first failure nothing more is begun.
   */
  public <T> List<T> all(List<Callable<T>> work) throws IOException {
    List<Future<T>> pending = new ArrayList<>();
    try {
      for (Callable<T> piece : work) {
        pending.add(threads().submit(piece));
      }
      List<T> results = new ArrayList<>();
      for (Future<T> piece : pending) {
        results.add(piece.get());
      }
      return results;
    } catch (InterruptedException e) {
      throw interrupted();
    } catch (ExecutionException e) {
      if (e.getCause() instanceof IOException cause) {
        throw cause;
      }
      if (e.getCause() instanceof RuntimeException cause) {
        throw cause;
      }
      throw new IllegalStateException("an upload failed in an unforeseen way", e.getCause());
    } finally {
      pending.forEach(piece -> piece.cancel(true));
    }
  }

  private synchronized ExecutorService threads() {
    if (threads == null) {
      threads =
          Executors.newFixedThreadPool(
              connections,
              work -> {
                Thread thread = new Thread(work, "dusky-part");
                thread.setDaemon(true);
                return thread;
              });
    }
    return threads;
  }

  /** Counts bytes that were sent, or need not be. */
  public void sent(long bytes) {
    sent.accept(bytes);
  }

  /** The stream, not faster than the rate allows. */
  public InputStream paced(InputStream in) {
    return bytesPerSecond == 0 ? in : new Paced(in);
  }

  /** Waits until that many more bytes may be sent. */
  private void await(long bytes) throws InterruptedIOException {
    long wait;
    synchronized (this) {
      long now = System.nanoTime();
      long due = Math.max(now, nextNanos);
      nextNanos = due + (long) (bytes * 1e9 / bytesPerSecond);
      wait = due - now;
    }
    try {
      TimeUnit.NANOSECONDS.sleep(wait);
    } catch (InterruptedException e) {
      throw interrupted();
    }
  }

  private static InterruptedIOException interrupted() {
    Thread.currentThread().interrupt();
    return new InterruptedIOException("it was stopped");
  }

  @Override
  public synchronized void close() {
    if (threads != null) {
      threads.shutdownNow();
    }
  }

  /** A stream that waits before it gives more. */
  private final class Paced extends BulkStream {
    private final InputStream in;

    Paced(InputStream in) {
      this.in = in;
    }

    @Override
    public int read(byte[] buffer, int offset, int length) throws IOException {
      int read = in.read(buffer, offset, Math.min(length, 16 << 10));
      if (read > 0) {
        Uplink.this.await(read);
      }
      return read;
    }

    @Override
    public void close() throws IOException {
      in.close();
    }
  }
}
