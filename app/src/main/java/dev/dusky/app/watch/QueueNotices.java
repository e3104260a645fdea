package dev.dusky.app.watch;

import dev.dusky.app.watch.ArrivalDesk.Taken;
import dev.dusky.app.watch.Notifications.Arrival;
import dev.dusky.app.watch.WatchEvent.Level;
import dev.dusky.core.concurrent.Worker;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.notice.Notice;
import dev.dusky.core.notice.NoticeQueue;
import dev.dusky.core.watch.Backoff;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BooleanSupplier;
import java.util.function.Predicate;

/**
 * Takes notices from a queue. A notice is deleted only when its files are settled: until then it
 * stays hidden from others, and if this process is killed, another one receives it. A notice that
 * cannot be understood is left to the queue, which can set it aside after some deliveries.
 */
final class QueueNotices implements AutoCloseable {

  private static final Duration WAIT = Duration.ofSeconds(10);
  private static final Duration HIDDEN = Duration.ofSeconds(60);
  private static final Duration EXTEND_EVERY = Duration.ofSeconds(20);
  private static final long NAP_MILLIS = 200;

  /** The maximum number of notices that wait for their files; then none is received. */
  private static final int MOST_PENDING = 1_000;

  private final NoticeQueue queue;
  private final ArrivalDesk desk;
  private final WatchListener listener;
  private final WatchMetrics metrics;
  private final BooleanSupplier stopped;
  private final Worker extender = new Worker("dusky-notices-hidden", () -> repeat(this::extend));

  /** The files of each notice that are not settled yet. */
  private final Map<Notice, Set<Taken>> pending = new LinkedHashMap<>();

  private final Set<String> misunderstood = new HashSet<>();

  QueueNotices(
      NoticeQueue queue,
      ArrivalDesk desk,
      WatchListener listener,
      WatchMetrics metrics,
      BooleanSupplier stopped) {
    this.queue = queue;
    this.desk = desk;
    this.listener = listener;
    this.metrics = metrics;
    this.stopped = stopped;
  }

  String place() {
    return queue.place();
  }

  /** Begins to receive, and to extend what is pending. */
  void start() {
    Thread receiver =
        new Thread(
            () -> {
              repeat(this::receive);
              queue.close();
            },
            "dusky-notices");
    receiver.setDaemon(true);
    receiver.start();
    extender.start();
  }

  /** A step, which says how long to wait before the next one. */
  private interface Step {
    Duration run();
  }

  private void repeat(Step step) {
    int failures = 0;
    try {
      while (!stopped.getAsBoolean()) {
        Duration pause;
        try {
          pause = step.run();
          failures = 0;
        } catch (RuntimeException failure) { // nothing may end the receiver unseen
          pause = Backoff.DEFAULT.wait(++failures);
          if (failures == 1 && !stopped.getAsBoolean()) {
            listener.event(
                Level.ERROR,
                "notices",
                "",
                (failure instanceof Failure ? failure.getMessage() : failure.toString())
                    + " Until then files are found by listing alone.");
          }
        }
        for (long left = pause.toMillis();
            left > 0 && !stopped.getAsBoolean();
            left -= NAP_MILLIS) {
          Thread.sleep(Math.min(left, NAP_MILLIS));
        }
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private Duration receive() {
    synchronized (this) {
      if (pending.size() >= MOST_PENDING) {
        return Duration.ofSeconds(1);
      }
    }
    for (Notice notice : queue.receive(WAIT, HIDDEN)) {
      if (stopped.getAsBoolean()) {
        queue.hide(notice, Duration.ZERO); // another process may take it
      } else {
        take(notice);
      }
    }
    return Duration.ZERO;
  }

  private void take(Notice notice) {
    List<Arrival> arrivals;
    try {
      arrivals =
          Notifications.read(
              notice.body().getBytes(StandardCharsets.UTF_8), Optional.empty(), Optional.empty());
    } catch (IllegalArgumentException e) {
      metrics.notified("refused", 1);
      if (misunderstood.add(notice.id())) {
        listener.event(
            Level.WARN,
            "notices",
            "",
            "notice %s cannot be understood: %s; it was left in the queue"
                .formatted(notice.id(), e.getMessage()));
      }
      return;
    }
    Set<Taken> taken = new LinkedHashSet<>();
    // A feed may end its turn before all arrivals of a notice are known to be pending.
    synchronized (this) {
      for (Arrival arrival : arrivals) {
        taken.addAll(desk.take(arrival));
      }
      if (!taken.isEmpty()) {
        pending.put(notice, taken);
      }
    }
    metrics.notified("taken", taken.size());
    if (taken.isEmpty()) {
      metrics.notified("ignored", arrivals.size());
      queue.delete(notice);
    }
  }

  private Duration extend() {
    List<Notice> notices;
    synchronized (this) {
      notices = List.copyOf(pending.keySet());
    }
    for (Notice notice : notices) {
      try {
        queue.hide(notice, HIDDEN);
      } catch (Failure failure) {
        // Queues hide a message for some hours at most; it is delivered again, and taken again.
        synchronized (this) {
          pending.remove(notice);
        }
        listener.event(Level.WARN, "notices", "", failure.getMessage());
      }
    }
    return EXTEND_EVERY;
  }

  /** A turn of a feed has settled some paths: notices of which nothing is left are deleted. */
  void settled(String feed, Predicate<String> paths) {
    List<Notice> done = new ArrayList<>();
    synchronized (this) {
      pending.forEach(
          (notice, files) -> {
            files.removeIf(file -> file.feed().equals(feed) && paths.test(file.path()));
            if (files.isEmpty()) {
              done.add(notice);
            }
          });
      done.forEach(pending::remove);
    }
    for (Notice notice : done) {
      try {
        queue.delete(notice);
      } catch (Failure failure) {
        // It comes again, and its files are known as settled then.
        listener.event(Level.WARN, "notices", feed, failure.getMessage());
      }
    }
  }

  /** Ends; the receiver, which may wait for a message, ends and closes the queue after it. */
  @Override
  public void close() {
    extender.join();
  }
}
