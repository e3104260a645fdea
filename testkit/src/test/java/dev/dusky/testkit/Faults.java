package dev.dusky.testkit;

import dev.dusky.core.failure.Failure;
import java.util.concurrent.atomic.AtomicLong;

/** Makes the calls of a fake warehouse fail: at one step, or from that step on. */
public final class Faults {

  private final AtomicLong steps = new AtomicLong();
  private volatile long failing = Long.MAX_VALUE;
  private volatile boolean lasting;
  private volatile long conflicting = Long.MAX_VALUE;

  /** The number of calls so far. */
  public long steps() {
    return steps.get();
  }

  /** Starts counting again; nothing fails any more. */
  public void clear() {
    steps.set(0);
    failing = Long.MAX_VALUE;
    conflicting = Long.MAX_VALUE;
  }

  /**
   * Lets a call fail.
   *
   * @param step which one, from 1
   * @param always whether all calls behind it fail too, as after a lost connection
   */
  public void failAt(long step, boolean always) {
    clear();
    failing = step;
    lasting = always;
  }

  /** Lets a call fail once because of another transaction, which passes. */
  public void conflictAt(long step) {
    clear();
    conflicting = step;
  }

  /** A call; fails if it is its turn. */
  void step(String doing) {
    long step = steps.incrementAndGet();
    if (step == failing || lasting && step > failing) {
      throw Failure.warehouse(doing + " failed at step " + step);
    }
    if (step == conflicting) {
      throw Failure.warehouse(doing + " met another transaction").asPassing();
    }
  }
}
