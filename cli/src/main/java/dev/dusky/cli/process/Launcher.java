package dev.dusky.cli.process;

import dev.dusky.core.failure.Invocation;
import java.nio.file.Path;
import java.util.stream.Collectors;

/** Words commands of the program so that they work where the user stands. */
public final class Launcher {

  private static final String NAME = "dusky";
  private static final String FILE = "dusky.jar";

  private Launcher() {}

  /**
   * The command that starts the program: as the launcher script was called, {@code java -jar} for a
   * program file that was started directly, or the program's name.
   */
  public static String command() {
    String called = System.getenv("DUSKY_COMMAND");
    if (called != null && !called.isBlank()) {
      return quoted(called);
    }
    String path = System.getProperty("java.class.path", "");
    return Path.of(path).endsWith(FILE) ? "java -jar " + quoted(path) : NAME;
  }

  /** A command in quotes, as a hint shows it. */
  public static String words(Invocation invocation) {
    return "'" + typed(invocation) + "'";
  }

  /** A command as it is typed into a shell. */
  public static String typed(Invocation invocation) {
    return invocation.arguments().stream()
        .map(Launcher::quoted)
        .collect(Collectors.joining(" ", command() + " ", ""));
  }

  private static String quoted(String argument) {
    return argument.matches("[\\p{L}\\p{N}_./:=,@%+-]+") ? argument : '"' + argument + '"';
  }
}
