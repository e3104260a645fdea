package dev.dusky.app.config;

import dev.dusky.core.failure.Failure;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads numbers of bytes: {@code 800 kB}, {@code 64MB}, {@code 5 GB}; a kilobyte is 1000 bytes. */
public final class SizeText {

  private static final Pattern SIZE = Pattern.compile("(\\d{1,6}) ?(B|kB|MB|GB)");

  private SizeText() {}

  /** The bytes that a text writes, if it writes a number of them that is not 0. */
  public static Optional<Long> parse(String text) {
    Matcher matcher = SIZE.matcher(text.strip());
    if (!matcher.matches()) {
      return Optional.empty();
    }
    long number = Long.parseLong(matcher.group(1));
    long unit =
        switch (matcher.group(2)) {
          case "B" -> 1;
          case "kB" -> 1_000;
          case "MB" -> 1_000_000;
          default -> 1_000_000_000;
        };
    return number == 0 ? Optional.empty() : Optional.of(number * unit);
  }

  /** The bytes given with an option. */
  public static long option(String name, String text) {
    return parse(text)
        .orElseThrow(
            () ->
                Failure.usage("%s cannot be '%s'".formatted(name, text))
                    .hint("Write a number of bytes such as 500 kB, 64MB or 5 GB"));
  }
}
