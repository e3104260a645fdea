package dev.dusky.core.concurrent;

import dev.dusky.core.usage.Meter;
import java.io.IOException;

/** A daemon thread that does one piece of work, and can be stopped and waited for. */
public final class Worker {

  private final Thread thread;

  /** A worker that is not started yet. */
  public Worker(String name, Runnable work) {
    thread = new Thread(Meter.carried(work), name);
    thread.setDaemon(true);
  }

  /** Starts the work. */
  public void start() {
    thread.start();
  }

  /** Interrupts the work; whether and when it ends is its own matter. */
  public void interrupt() {
    thread.interrupt();
  }

  /** Waits for the end of the work; an interrupt of the caller is kept until then. */
  public void join() {
    boolean interrupted = false;
    while (thread.isAlive()) {
      try {
        thread.join();
      } catch (InterruptedException e) {
        interrupted = true;
      }
    }
    if (interrupted) {
      Thread.currentThread().interrupt();
    }
  }

  /** Throws again, in the thread that wanted the result, what stopped the work. */
  public static RuntimeException rethrow(Throwable failure)
      throws IOException, InterruptedException {
    if (failure instanceof IOException e) {
      throw e;
    }
    if (failure instanceof InterruptedException e) {
      throw e;
    }
    if (failure instanceof Error e) {
      throw e;
    }
    throw (RuntimeException) failure;
  }
}
