package dev.dusky.core.concurrent;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Function;

/** Applies a function that waits for others to many things at the same time. */
public final class Together {

  private Together() {}

  /**
   * The results in the order of the things.
   *
   * @param most how many are waited for at a time
   * @throws RuntimeException one of the failures, after all threads have ended
   */
  public static <T, R> List<R> map(List<T> things, int most, Function<T, R> function) {
    List<R> results = new ArrayList<>();
    things.forEach(thing -> results.add(null));
    AtomicInteger next = new AtomicInteger();
    List<Errand<Integer>> lanes = new ArrayList<>();
    for (int i = 0; i < Math.min(most, things.size()); i++) {
      lanes.add(
          Errand.start(
              "dusky-together-" + (i + 1),
              () -> {
                int place;
                while ((place = next.getAndIncrement()) < things.size()) {
                  R result = function.apply(things.get(place));
                  synchronized (results) {
                    results.set(place, result);
                  }
                }
                return place;
              }));
    }
    RuntimeException failed = null;
    for (Errand<Integer> lane : lanes) {
      try {
        lane.take();
      } catch (RuntimeException e) {
        failed = failed == null ? e : failed;
        next.set(things.size());
      }
    }
    if (failed != null) {
      throw failed;
    }
    synchronized (results) {
      return new ArrayList<>(results);
    }
  }
}
