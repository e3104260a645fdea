package dev.dusky.standin;

import java.time.Duration;
import java.util.EnumSet;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.atomic.AtomicReference;

/** Faults on demand. None at first; any thread may switch any fault. */
public final class Faults {

  /** A right that can be taken away. */
  public enum Right {
    /** Listing a bucket. */
    LIST,
    /** Reading objects. */
    READ,
    /** Writing objects. */
    WRITE
  }

  private final Set<Right> denied = EnumSet.noneOf(Right.class);
  private final AtomicInteger unavailable = new AtomicInteger();
  private final AtomicInteger instead = new AtomicInteger();
  private final AtomicReference<Answer> insteadOf = new AtomicReference<>();
  private final AtomicInteger cuts = new AtomicInteger();
  private final AtomicLong cutAfter = new AtomicLong();
  private volatile Duration latency = Duration.ZERO;
  private volatile long pace = Long.MAX_VALUE;

  /** Each answer waits so long. */
  public void latency(Duration duration) {
    latency = duration;
  }

  /** Each object is sent no faster than that many bytes a second. */
  public void pace(long bytesPerSecond) {
    pace = bytesPerSecond;
  }

  /** The next requests, that many, are answered with 503. */
  public void unavailable(int requests) {
    unavailable.set(requests);
  }

  /** The next reads lose their connection after that many bytes. */
  public void cut(int reads, long afterBytes) {
    cutAfter.set(afterBytes);
    cuts.set(reads);
  }

  /**
   * An answer given in place of the right one.
   *
   * @param status the HTTP status
   * @param headers its headers
   * @param body its body
   */
  public record Answer(int status, Map<String, String> headers, String body) {}

  /** The next requests get this answer, whatever they ask for. */
  public void answer(int requests, Answer answer) {
    insteadOf.set(answer);
    instead.set(requests);
  }

  /** Takes a right away. */
  public void deny(Right right) {
    synchronized (denied) {
      denied.add(right);
    }
  }

  /** Makes all well again. */
  public void clear() {
    latency = Duration.ZERO;
    pace = Long.MAX_VALUE;
    unavailable.set(0);
    instead.set(0);
    cuts.set(0);
    synchronized (denied) {
      denied.clear();
    }
  }

  boolean isDenied(Right right) {
    synchronized (denied) {
      return denied.contains(right);
    }
  }

  boolean takeUnavailable() {
    return unavailable.getAndUpdate(n -> Math.max(0, n - 1)) > 0;
  }

  /** The answer to be given in place of the right one, or null. */
  Answer takeAnswer() {
    return instead.getAndUpdate(n -> Math.max(0, n - 1)) > 0 ? insteadOf.get() : null;
  }

  /** After how many bytes this read is to be cut, or -1. */
  long takeCut() {
    return cuts.getAndUpdate(n -> Math.max(0, n - 1)) > 0 ? cutAfter.get() : -1;
  }

  /** Waits until that many bytes may have been sent since a moment of {@link System#nanoTime}. */
  void keepPace(long bytes, long startNanos) throws InterruptedException {
    long due = (long) (bytes * 1e9 / pace) - (System.nanoTime() - startNanos);
    if (due > 0) {
      TimeUnit.NANOSECONDS.sleep(due);
    }
  }

  void delay() throws InterruptedException {
    Thread.sleep(latency.toMillis());
  }
}
