package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;

/** Runs the built program as a process of its own in a folder, as a person would. */
final class Program {

  static final Path JAR = Path.of("target", "dusky.jar").toAbsolutePath();

  /** What a run left behind. */
  record Run(int code, String out, String err) {

    Run expect(int expected) {
      assertEquals(expected, code, () -> "\n" + out + "\n" + err);
      return this;
    }

    String all() {
      return out + err;
    }
  }

  private final Path folder;
  private final Map<String, String> environment = new HashMap<>();
  private List<String> prefix = List.of();
  private List<String> options = List.of("-Xmx256m");

  Program(Path folder) {
    this.folder = folder;
  }

  Program env(String name, String value) {
    environment.put(name, value);
    return this;
  }

  /** Words before the command, such as a shell that limits it. */
  Program behind(String... words) {
    prefix = List.of(words);
    return this;
  }

  Program javaOptions(String... words) {
    options = List.of(words);
    return this;
  }

  Program file(String name, String text) throws IOException {
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
    command.addAll(List.of("-XX:TieredStopAtLevel=1", "-jar", JAR.toString()));
    command.addAll(List.of(args));
    ProcessBuilder builder = new ProcessBuilder(command).directory(folder.toFile());
    builder.environment().putAll(environment);
    return builder.redirectOutput(out.toFile()).redirectError(err.toFile());
  }

  /** Starts the program and leaves it running; its output goes to files in the folder. */
  Process start(String... args) throws IOException {
    return builder(
            Files.createTempFile(folder, "out-", ".txt"),
            Files.createTempFile(folder, "err-", ".txt"),
            args)
        .start();
  }

  Run run(String... args) throws IOException, InterruptedException {
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
