package dev.dusky.cli.demo;

import dev.dusky.cli.process.ExitCode;
import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.function.ToIntFunction;

/** Prints numbered steps, and runs and shows the commands of each. */
final class Narration {

  private final Screen screen;
  private final Path folder;
  private final ToIntFunction<String[]> program;
  private int step;

  /**
   * A narration of commands that run in a folder.
   *
   * @param program runs a command line and gives its exit code
   */
  Narration(Screen screen, Path folder, ToIntFunction<String[]> program) {
    this.screen = screen;
    this.folder = folder;
    this.program = program;
  }

  void title(String text) {
    screen.raw(screen.style().strong(text));
  }

  void say(String text) {
    screen.raw(text);
  }

  void step(String text) {
    screen.raw("");
    title(++step + ". " + text);
  }

  /** Runs a command that must succeed. */
  void dusky(String... args) {
    run(0, args);
  }

  /** Runs a command that must succeed, and shows a part of its output. */
  void dusky(Excerpt excerpt, String... args) {
    run(0, excerpt, args);
  }

  /** Runs a command that leaves something open, with exit code 1. */
  void leaving(String... args) {
    run(1, args);
  }

  /** Runs a command that leaves something open, and shows a part of its output. */
  void leaving(Excerpt excerpt, String... args) {
    run(1, excerpt, args);
  }

  /** Runs a command that reads a file from its standard input. */
  void piped(Path input, String... args) throws IOException {
    InputStream own = System.in;
    try (InputStream in = Files.newInputStream(input)) {
      System.setIn(in);
      screen.raw(screen.style().faint("$ cat " + input.getFileName() + " | " + typed(args)));
      execute(0, args);
    } finally {
      System.setIn(own);
    }
  }

  /** Runs a command that must succeed, and shows nothing of it. */
  void unseen(String... args) {
    PrintStream screenOut = System.out;
    System.setOut(new PrintStream(new ByteArrayOutputStream(), true, StandardCharsets.UTF_8));
    try {
      execute(0, args);
    } finally {
      System.setOut(screenOut);
    }
  }

  /** Shows a command that runs in the background. */
  void shown(String... args) {
    screen.raw(screen.style().faint("$ " + typed(args)));
  }

  private static String typed(String... args) {
    List<String> typed = new ArrayList<>();
    for (String arg : args) {
      typed.add(arg.matches(".*[ (].*") ? '"' + arg + '"' : arg);
    }
    return "dusky " + String.join(" ", typed);
  }

  private void run(int expected, Excerpt excerpt, String... args) {
    PrintStream screenOut = System.out;
    ByteArrayOutputStream captured = new ByteArrayOutputStream();
    shown(args);
    System.setOut(new PrintStream(captured, true, StandardCharsets.UTF_8));
    try {
      execute(expected, args);
    } finally {
      System.setOut(screenOut);
      List<String> lines = captured.toString(StandardCharsets.UTF_8).lines().toList();
      excerpt.of(lines).forEach(screen::raw);
    }
  }

  private void run(int expected, String... args) {
    shown(args);
    execute(expected, args);
  }

  private void execute(int expected, String... args) {
    List<String> all = new ArrayList<>(List.of(args));
    all.add("--directory=" + folder);
    if (!screen.style().colour()) {
      all.add("--no-color");
    }
    int code = program.applyAsInt(all.toArray(String[]::new));
    if (code != expected) {
      throw Failure.of(kind(code), "The demo stopped at 'dusky " + String.join(" ", args) + "'")
          .because("it ended with exit code %d and not %d".formatted(code, expected));
    }
  }

  private static Failure.Kind kind(int code) {
    for (Failure.Kind kind : Failure.Kind.values()) {
      if (ExitCode.of(kind) == code) {
        return kind;
      }
    }
    return Failure.Kind.FILE;
  }
}
