package dev.dusky.cli.command;

import dev.dusky.cli.process.ExitCode;
import dev.dusky.cli.process.Launcher;
import dev.dusky.cli.render.Style;
import dev.dusky.cli.render.Terminal;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.text.SafeText;
import java.io.PrintStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.concurrent.ExecutionException;
import picocli.CommandLine;

/** Builds the command line, runs it, and turns failures into messages and exit codes. */
public final class CommandRunner {

  private CommandRunner() {}

  /** Whether the running command ends cleanly when asked to stop. */
  public static boolean stops() {
    return StopSignal.installed();
  }

  /** Runs a command line and gives the exit code. */
  public static int execute(String... args) {
    System.setOut(new PrintStream(System.out, true, StandardCharsets.UTF_8));
    System.setErr(new PrintStream(System.err, true, StandardCharsets.UTF_8));
    return commandLine().execute(args);
  }

  /** All commands, as the program and its documentation know them. */
  public static CommandLine commandLine() {
    CommandLine line = new CommandLine(new Dusky());
    line.setExecutionExceptionHandler(CommandRunner::report);
    line.setParameterExceptionHandler(
        (e, args) -> {
          System.err.println(SafeText.block(String.valueOf(e.getMessage())));
          System.err.println(
              "Try '" + e.getCommandLine().getCommandSpec().qualifiedName() + " --help'.");
          return ExitCode.of(Failure.Kind.USAGE);
        });
    line.setCaseInsensitiveEnumValuesAllowed(true);
    return line;
  }

  private static int report(Exception e, CommandLine line, CommandLine.ParseResult parsed) {
    DuskyCommand command = line.getCommand() instanceof DuskyCommand dusky ? dusky : null;
    boolean debug = command != null && command.debug;
    Style style = new Style(command != null && !command.noColor && Terminal.detect().err());
    if (debug) {
      e.printStackTrace();
    }
    if (e instanceof Failure failure) {
      System.err.println(style.bad("dusky: ") + failure.message(Launcher::words));
      return ExitCode.of(failure.kind());
    }
    boolean wrapped = e instanceof UncheckedIOException || e instanceof ExecutionException;
    Throwable met = wrapped && e.getCause() != null ? e.getCause() : e;
    System.err.println(
        style.bad("dusky: ")
            + SafeText.line(
                "An unexpected error stopped the command: %s. Unfinished work was rolled back. %s"
                    .formatted(met, ErrorReport.keep(e))));
    return ExitCode.of(Failure.Kind.UNEXPECTED);
  }
}
