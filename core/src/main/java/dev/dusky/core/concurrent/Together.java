package dev.dusky.core.concurrent;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.function.Function;

/** Applies a function that waits for others to many things at the same time. */
public final class Together {

  private Together() {}

  /**
   * The results in the order of the things.
   *
   * @param most how many are waited for at a time
   * @throws RuntimeException the first failure in that order, after all have ended
   */
  public static <T, R> List<R> map(List<T> things, int most, Function<T, R> function) {
    if (things.size() < 2) {
      return things.stream().map(function).toList();
    }
    ExecutorService threads = Executors.newFixedThreadPool(Math.min(most, things.size()));
    try {
      List<Future<R>> futures = new ArrayList<>();
      things.forEach(thing -> futures.add(threads.submit(() -> function.apply(thing))));
      threads.shutdown();
      List<R> results = new ArrayList<>();
      for (Future<R> future : futures) {
        results.add(future.get());
      }
      return results;
    } catch (ExecutionException e) {
      if (e.getCause() instanceof Error error) {
        throw error;
      }
      throw (RuntimeException) e.getCause(); // a function declares no other
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException("interrupted while waiting", e);
    } finally {
      threads.shutdownNow();
    }
  }
}
