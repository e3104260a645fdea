package dev.dusky.core.usage;

import java.lang.management.ManagementFactory;
import java.lang.management.ThreadMXBean;
import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.LongAdder;

/**
 * Counts what one load or merge uses. It belongs to the thread that opened it, and to threads whose
 * work was made with {@link #carried} there; whatever these do counts.
 */
public final class Meter implements AutoCloseable {

  private static final ThreadMXBean THREADS = ManagementFactory.getThreadMXBean();
  private static final ThreadLocal<Meter> CURRENT = new ThreadLocal<>();

  private final Meter outer = CURRENT.get();
  private final long began = System.nanoTime();
  private final long processorBefore = processor();
  private final LongAdder processor = new LongAdder();
  private final LongAdder database = new LongAdder();
  private final LongAdder in = new LongAdder();
  private final LongAdder out = new LongAdder();
  private final Map<Request, LongAdder> requests = new EnumMap<>(Request.class);

  private Meter() {
    for (Request kind : Request.values()) {
      requests.put(kind, new LongAdder());
    }
    CURRENT.set(this);
  }

  /** Begins to count in this thread; another meter of the thread waits until this one is closed. */
  public static Meter open() {
    return new Meter();
  }

  /** The meter of this thread, if it has one. */
  public static Optional<Meter> current() {
    return Optional.ofNullable(CURRENT.get());
  }

  /** The same work, counted by the meter of the thread that calls this now. */
  public static Runnable carried(Runnable work) {
    Meter meter = CURRENT.get();
    return meter == null ? work : () -> meter.count(work);
  }

  private void count(Runnable work) {
    Meter before = CURRENT.get();
    long start = processor();
    CURRENT.set(this);
    try {
      work.run();
    } finally {
      processor.add(processor() - start);
      CURRENT.set(before);
    }
  }

  private static long processor() {
    return THREADS.isCurrentThreadCpuTimeSupported() ? THREADS.getCurrentThreadCpuTime() : 0;
  }

  /** Counts a request. */
  public void request(Request kind) {
    requests.get(kind).increment();
  }

  /** Counts bytes received from a store. */
  public void received(long bytes) {
    in.add(bytes);
  }

  /** Counts bytes sent to a store. */
  public void sent(long bytes) {
    out.add(bytes);
  }

  /** Counts time spent waiting for the database. */
  public void database(long nanos) {
    database.add(nanos);
  }

  /** Work that waits for the database. */
  @FunctionalInterface
  public interface Waiting<T, E extends Exception> {
    /** Does it. */
    T run() throws E;
  }

  /** Does work that waits for the database, and counts its time if this thread has a meter. */
  public static <T, E extends Exception> T waiting(Waiting<T, E> work) throws E {
    Meter meter = CURRENT.get();
    if (meter == null) {
      return work.run();
    }
    long start = System.nanoTime();
    try {
      return work.run();
    } finally {
      meter.database(System.nanoTime() - start);
    }
  }

  /** What was used until now; called in the thread that opened the meter. */
  public Usage usage() {
    Map<Request, Long> counts = new EnumMap<>(Request.class);
    requests.forEach((kind, count) -> counts.put(kind, count.sum()));
    return new Usage(
        (System.nanoTime() - began) / 1_000_000,
        (processor.sum() + processor() - processorBefore) / 1_000_000,
        database.sum() / 1_000_000,
        in.sum(),
        out.sum(),
        counts);
  }

  @Override
  public void close() {
    CURRENT.set(outer);
  }
}
