package dev.dusky.cli.demo;

import dev.dusky.cli.render.Screen;
import dev.dusky.core.failure.Failure;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.function.ToIntFunction;

/** Tells a story in numbered steps and runs the commands that it speaks of. */
final class Narration {

  private final Screen screen;
  private final Path folder;
  private final ToIntFunction<String[]> program;
  private int step;

  /**
   * A story that plays in a folder.
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

  /** Runs a command that leaves something to be settled, and says so with exit code 1. */
  void leaving(String... args) {
    run(1, args);
  }

  /** Shows a command that goes on running beside the story. */
  void shown(String... args) {
    List<String> shown = new ArrayList<>();
    for (String arg : args) {
      shown.add(arg.matches(".*[ (].*") ? '"' + arg + '"' : arg);
    }
    screen.raw(screen.style().faint("$ dusky " + String.join(" ", shown)));
  }

  private void run(int expected, String... args) {
    shown(args);
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
      if (kind.exitCode() == code) {
        return kind;
      }
    }
    return Failure.Kind.FILE;
  }
}
