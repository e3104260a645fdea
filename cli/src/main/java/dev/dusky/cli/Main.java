package dev.dusky.cli;

import dev.dusky.cli.command.DuskyCommand;

/** The entry point. */
public final class Main {

  private Main() {}

  /** Runs one command and exits with its code. */
  public static void main(String[] args) {
    if (args.length == 1 && args[0].equals("--version")) {
      System.out.println("dusky " + Version.NUMBER); // the one answer that needs nothing else
      return;
    }
    System.exit(DuskyCommand.execute(args));
  }
}
