package dev.dusky.core.failure;

import dev.dusky.core.text.SafeText;
import java.util.List;

/**
 * A command of the program that a hint refers to. The command line words it, since only it knows
 * how the program was started.
 *
 * @param arguments the command's name and its arguments
 */
public record Invocation(List<String> arguments) {

  /** Keeps a copy, with each argument made safe to print. */
  public Invocation {
    arguments = arguments.stream().map(SafeText::line).toList();
  }

  /** A command with its arguments. */
  public static Invocation of(String... arguments) {
    return new Invocation(List.of(arguments));
  }

  /** The command in quotes, as typed when the program is on the path. */
  @Override
  public String toString() {
    return "'dusky " + String.join(" ", arguments) + "'";
  }
}
