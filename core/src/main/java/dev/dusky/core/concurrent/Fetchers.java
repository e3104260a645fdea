package dev.dusky.core.concurrent;

import dev.dusky.core.usage.Meter;
import java.io.IOException;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;

/** Daemon threads that fetch what is wanted soon; a depot that is far away answers late. */
public final class Fetchers implements AutoCloseable {

  private static final int AT_ONCE = 8;

  private final ExecutorService threads =
      Executors.newFixedThreadPool(
          AT_ONCE,
          work -> {
            Thread thread = new Thread(Meter.carried(work), "dusky-fetch");
            thread.setDaemon(true);
            return thread;
          });

  /** Fetches something, in the order in which it is asked for, eight things at once. */
  public Future<byte[]> fetch(Callable<byte[]> what) {
    return threads.submit(what);
  }

  /** Waits for what was asked for; throws what kept it from coming. */
  public static byte[] take(Future<byte[]> fetched) throws IOException, InterruptedException {
    try {
      return fetched.get();
    } catch (ExecutionException e) {
      throw Worker.rethrow(e.getCause());
    }
  }

  /** Fetches nothing any more. */
  @Override
  public void close() {
    threads.shutdownNow();
  }
}
