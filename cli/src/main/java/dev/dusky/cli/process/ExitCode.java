package dev.dusky.cli.process;

import dev.dusky.core.failure.Failure;

/** The exit code of each kind of failure; 0 is success. */
public final class ExitCode {

  private ExitCode() {}

  /** The exit code for a kind. */
  public static int of(Failure.Kind kind) {
    return switch (kind) {
      case FILE -> 1;
      case USAGE -> 2;
      case CONFIGURATION -> 3;
      case DEPOT -> 4;
      case WAREHOUSE -> 5;
      case LEDGER -> 6;
      case UNEXPECTED -> 70;
      case INTERRUPTED -> 130;
    };
  }
}
