package dev.dusky.cli.command;

import dev.dusky.core.bytes.TemporaryFolder;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;

/**
 * Turns Ctrl-C and termination into a request that the work at hand can answer: it rolls back,
 * closes its load as interrupted and ends, and only then does the process.
 */
final class StopSignal implements AutoCloseable {

  private static final long PATIENCE_SECONDS = 20;

  private static volatile boolean installed;

  private final CountDownLatch finished = new CountDownLatch(1);
  private final Thread hook = new Thread(this::request, "dusky-stop");
  private volatile boolean requested;

  private StopSignal() {}

  static StopSignal install() {
    StopSignal signal = new StopSignal();
    installed = true;
    TemporaryFolder.keepUntil(signal::await);
    Runtime.getRuntime().addShutdownHook(signal.hook);
    return signal;
  }

  /** Whether the command answers a request to stop. */
  static boolean installed() {
    return installed;
  }

  private void request() {
    requested = true;
    await();
  }

  private void await() {
    try {
      finished.await(PATIENCE_SECONDS, TimeUnit.SECONDS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  boolean requested() {
    return requested;
  }

  @Override
  public void close() {
    finished.countDown();
    if (!requested) {
      Runtime.getRuntime().removeShutdownHook(hook);
    }
  }
}
