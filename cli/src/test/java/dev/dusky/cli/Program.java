package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.dusky.cli.command.CommandRunner;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.PrintStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;

/**
 * Runs the built program in a folder, as a person would: as its own process, or, where the process
 * is not what is tested, by the same entry within this one, which is much faster.
 */
public final class Program {

  static final Path JAR = Path.of("target", "dusky.jar").toAbsolutePath();

  /** What a run left behind. */
  public record Run(int code, String out, String err) {

    Run expect(int expected) {
      assertEquals(expected, code, () -> "\n" + out + "\n" + err);
      return this;
    }

    public String all() {
      return out + err;
    }
  }

  private final Path folder;

  /** The name that the program has without a variable, too. */
  private static final Map<String, String> NAME = Map.of("DUSKY_COMMAND", "dusky");

  private final Map<String, String> environment = new HashMap<>(NAME);
  private List<String> prefix = List.of();
  private List<String> options = List.of("-Xmx256m");

  private List<String> terminal = List.of();
  private boolean within;

  public Program(Path folder) {
    this.folder = folder;
  }

  /** The program within this process, unless the environment or Java's options are given. */
  static Program within(Path folder) {
    Program program = new Program(folder);
    program.within = true;
    return program;
  }

  /** Sets a variable of the environment, or takes it back if the value is null. */
  Program env(String name, String value) {
    if (value == null) {
      environment.remove(name);
    } else {
      environment.put(name, value);
    }
    return this;
  }

  /** Words before the command, such as a shell that limits it. */
  Program behind(String... words) {
    prefix = List.of(words);
    return this;
  }

  /**
   * On a pseudo terminal whose keys and output are the process's streams; a shell runs it there.
   */
  Program onTerminal(String... shell) {
    terminal = List.of(shell);
    return this;
  }

  Program javaOptions(String... words) {
    options = List.of(words);
    return this;
  }

  public Program file(String name, String text) throws IOException {
    Path file = folder.resolve(name);
    Files.createDirectories(file.getParent());
    Files.writeString(file, text);
    return this;
  }

  private ProcessBuilder builder(Path out, Path err, String... args) {
    List<String> command = new ArrayList<>(prefix);
    command.add(Path.of(System.getProperty("java.home"), "bin", "java").toString());
    command.addAll(QuickStart.options());
    command.addAll(options);
    command.addAll(List.of("-XX:+UseSerialGC", "-XX:TieredStopAtLevel=1", "-jar", JAR.toString()));
    command.addAll(List.of(args));
    if (!terminal.isEmpty()) {
      return onTerminal(command);
    }
    ProcessBuilder builder = new ProcessBuilder(command).directory(folder.toFile());
    builder.environment().putAll(environment);
    return builder.redirectOutput(out.toFile()).redirectError(err.toFile());
  }

  /** All text of a process's stream, until it ends. */
  static String text(InputStream stream) {
    try {
      return new String(stream.readAllBytes(), StandardCharsets.UTF_8);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private ProcessBuilder onTerminal(List<String> command) {
    List<String> quoted = new ArrayList<>(terminal);
    command.forEach(word -> quoted.add("'" + word + "'"));
    ProcessBuilder builder =
        new ProcessBuilder("script", "-qfec", String.join(" ", quoted), "/dev/null")
            .directory(folder.toFile())
            .redirectErrorStream(true);
    builder.environment().putAll(environment);
    builder.environment().putAll(Map.of("DUSKY_TERMINAL", "out,err", "TERM", "xterm"));
    return builder;
  }

  /** Starts the program and leaves it running; its output goes to files in the folder. */
  public Process start(String... args) throws IOException {
    return builder(
            Files.createTempFile(folder, "out-", ".txt"),
            Files.createTempFile(folder, "err-", ".txt"),
            args)
        .start();
  }

  /** The standard streams are of the whole process, so there is one run at a time. */
  private Run runWithin(String... args) {
    synchronized (Program.class) {
      List<String> all = new ArrayList<>(List.of(args));
      all.add("--directory=" + folder);
      ByteArrayOutputStream out = new ByteArrayOutputStream();
      ByteArrayOutputStream err = new ByteArrayOutputStream();
      PrintStream realOut = System.out;
      PrintStream realErr = System.err;
      System.setOut(new PrintStream(out, true, StandardCharsets.UTF_8));
      System.setErr(new PrintStream(err, true, StandardCharsets.UTF_8));
      try {
        int code = CommandRunner.execute(all.toArray(String[]::new));
        return new Run(
            code, out.toString(StandardCharsets.UTF_8), err.toString(StandardCharsets.UTF_8));
      } finally {
        System.setOut(realOut);
        System.setErr(realErr);
      }
    }
  }

  private boolean plain(String... args) {
    return environment.equals(NAME)
        && prefix.isEmpty()
        && options.equals(List.of("-Xmx256m"))
        && args.length > 0
        && !args[0].startsWith("-");
  }

  public Run run(String... args) throws IOException, InterruptedException {
    if (within && plain(args)) {
      return runWithin(args);
    }
    Path out = Files.createTempFile("dusky-out-", ".txt");
    Path err = Files.createTempFile("dusky-err-", ".txt");
    Process process = builder(out, err, args).start();
    process.getOutputStream().close();
    if (!process.waitFor(120, TimeUnit.SECONDS)) {
      process.destroyForcibly();
      throw new AssertionError("still running after two minutes: " + String.join(" ", args));
    }
    Run run = new Run(process.exitValue(), Files.readString(out), Files.readString(err));
    Files.delete(out);
    Files.delete(err);
    return run;
  }
}
