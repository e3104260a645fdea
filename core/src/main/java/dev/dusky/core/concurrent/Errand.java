package dev.dusky.core.concurrent;

import dev.dusky.core.usage.Meter;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.FutureTask;
import java.util.function.Supplier;

/** Work on a background thread whose result is taken later. */
public final class Errand<T> {

  private final FutureTask<T> task;

  private Errand(FutureTask<T> task) {
    this.task = task;
  }

  /** Starts the work. */
  public static <T> Errand<T> start(String name, Supplier<T> work) {
    FutureTask<T> task = new FutureTask<>(work::get);
    Thread thread = new Thread(Meter.carried(task), name);
    thread.setDaemon(true);
    thread.start();
    return new Errand<>(task);
  }

  /**
   * Waits for the result.
   *
   * @throws RuntimeException what stopped the work
   */
  public T take() {
    try {
      return task.get();
    } catch (ExecutionException e) {
      if (e.getCause() instanceof Error error) {
        throw error;
      }
      throw (RuntimeException) e.getCause(); // a supplier declares no other
    } catch (InterruptedException e) {
      task.cancel(true);
      Thread.currentThread().interrupt();
      throw new IllegalStateException("interrupted while waiting", e);
    }
  }
}
