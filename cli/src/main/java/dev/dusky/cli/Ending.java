package dev.dusky.cli;

import dev.dusky.cli.process.ExitCode;
import dev.dusky.core.failure.Failure;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;

/**
 * Gives the exit code of a command that a signal ends: that of the command if it comes to an
 * orderly end in time, and otherwise the one for interrupted commands, where Java's own would be
 * another.
 */
final class Ending {

  /** How long a command that is asked to stop may take to roll back and close its work. */
  private static final long PATIENCE_SECONDS = 25;

  private final CountDownLatch reached = new CountDownLatch(1);
  private volatile int code = ExitCode.of(Failure.Kind.INTERRUPTED);
  private volatile boolean normal;

  private Ending() {}

  static Ending install() {
    Ending ending = new Ending();
    Runtime.getRuntime().addShutdownHook(new Thread(ending::signalled, "dusky-ending"));
    return ending;
  }

  /** The command has ended. */
  void reached(int itsCode) {
    code = itsCode;
    normal = true;
    reached.countDown();
  }

  private void signalled() {
    if (normal) {
      return;
    }
    try {
      boolean orderly =
          dev.dusky.cli.command.CommandRunner.stops()
              && reached.await(PATIENCE_SECONDS, TimeUnit.SECONDS);
      Runtime.getRuntime().halt(orderly ? code : ExitCode.of(Failure.Kind.INTERRUPTED));
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }
}
