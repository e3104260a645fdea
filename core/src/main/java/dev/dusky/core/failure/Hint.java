package dev.dusky.core.failure;

import dev.dusky.core.text.SafeText;
import java.util.List;
import java.util.function.Function;
import java.util.function.UnaryOperator;

/**
 * What to do next after a failure: a text and the commands of the program that it refers to.
 *
 * @param text the advice, of one or several lines; each {@code {}} is one of the commands, in their
 *     order; may be empty
 * @param commands the commands to run
 */
public record Hint(String text, List<Invocation> commands) {

  private static final String MARK = "{}";

  /** Makes the text safe to print. */
  public Hint {
    text = SafeText.block(text);
    commands = List.copyOf(commands);
    if (text.split("\\{\\}", -1).length <= commands.size()) {
      throw new IllegalArgumentException("the hint lacks a mark for a command: " + text);
    }
  }

  /** A hint with its commands. */
  public static Hint of(String text, Invocation... commands) {
    return new Hint(text, List.of(commands));
  }

  /** The same hint with its text and all arguments changed. */
  public Hint map(UnaryOperator<String> change) {
    return new Hint(
        change.apply(text),
        commands.stream()
            .map(c -> new Invocation(c.arguments().stream().map(change).toList()))
            .toList());
  }

  /** The text with its commands in the given wording. */
  public String words(Function<Invocation, String> wording) {
    StringBuilder words = new StringBuilder();
    int from = 0;
    for (Invocation command : commands) {
      int at = text.indexOf(MARK, from);
      words.append(text, from, at).append(wording.apply(command));
      from = at + MARK.length();
    }
    return words.append(text, from, text.length()).toString();
  }
}
