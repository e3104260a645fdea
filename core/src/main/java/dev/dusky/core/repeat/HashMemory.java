package dev.dusky.core.repeat;

import java.util.concurrent.atomic.AtomicLong;

/** The memory that the row hashes of one load may take together, whatever table holds them. */
public final class HashMemory {

  private final AtomicLong free;

  /** That many bytes. */
  public HashMemory(long bytes) {
    free = new AtomicLong(bytes);
  }

  /** As many megabytes as the policy allows, and at most a third of the heap. */
  public static HashMemory of(RepeatPolicy policy) {
    return new HashMemory(
        Math.min((long) policy.memory() << 20, Runtime.getRuntime().maxMemory() / 3));
  }

  /** Takes that many bytes; false if they are not free. */
  boolean take(long bytes) {
    long now = free.get();
    while (bytes <= now) {
      if (free.compareAndSet(now, now - bytes)) {
        return true;
      }
      now = free.get();
    }
    return false;
  }

  /** Returns bytes that were taken. */
  void give(long bytes) {
    free.addAndGet(bytes);
  }
}
