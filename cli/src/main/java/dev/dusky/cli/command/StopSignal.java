package dev.dusky.cli.command;

/**
 * Turns Ctrl-C and termination into a request that the work at hand can answer: it rolls back,
 * closes its load as interrupted and ends, and only then does the process.
 */
final class StopSignal implements AutoCloseable {

  private static final long PATIENCE_MILLIS = 20_000;

  private volatile boolean requested;
  private volatile boolean finished;
  private final Thread worker = Thread.currentThread();
  private final Thread hook = new Thread(this::request, "dusky-stop");

  private StopSignal() {}

  static StopSignal install() {
    StopSignal signal = new StopSignal();
    Runtime.getRuntime().addShutdownHook(signal.hook);
    return signal;
  }

  private void request() {
    requested = true;
    try {
      while (!finished && worker.isAlive()) {
        worker.join(50);
        if (System.nanoTime() - started() > PATIENCE_MILLIS * 1_000_000) {
          return;
        }
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private long startedNanos;

  private long started() {
    if (startedNanos == 0) {
      startedNanos = System.nanoTime();
    }
    return startedNanos;
  }

  boolean requested() {
    return requested;
  }

  @Override
  public void close() {
    finished = true;
    if (!requested) {
      Runtime.getRuntime().removeShutdownHook(hook);
    }
  }
}
