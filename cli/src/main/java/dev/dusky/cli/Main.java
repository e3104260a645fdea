package dev.dusky.cli;

import dev.dusky.app.workspace.Version;
import dev.dusky.cli.command.CommandRunner;
import java.util.Locale;
import java.util.TimeZone;

/** The entry point. */
public final class Main {

  private Main() {}

  /** Runs one command and exits with its code. */
  public static void main(String[] args) {
    if (args.length == 1 && args[0].equals("--version")) {
      System.out.println("dusky " + Version.NUMBER); // the one answer that needs nothing else
      return;
    }
    // What is written depends on the data and on nothing else.
    Locale.setDefault(Locale.ROOT);
    TimeZone.setDefault(TimeZone.getTimeZone("UTC"));
    Ending ending = Ending.install();
    int code = CommandRunner.execute(args);
    ending.reached(code);
    System.exit(code);
  }
}
