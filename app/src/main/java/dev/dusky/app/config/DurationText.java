package dev.dusky.app.config;

import java.time.Duration;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads spans of time: {@code 30 s}, {@code 5 min}, {@code 2 h}, {@code 1 d}. */
public final class DurationText {

  private static final Pattern SPAN = Pattern.compile("(\\d{1,9}) ?(ms|s|min|h|d)");

  private DurationText() {}

  /** The span that a text writes, if it writes one. */
  public static Optional<Duration> parse(String text) {
    Matcher matcher = SPAN.matcher(text.strip());
    if (!matcher.matches()) {
      return Optional.empty();
    }
    long number = Long.parseLong(matcher.group(1));
    return Optional.of(
        switch (matcher.group(2)) {
          case "ms" -> Duration.ofMillis(number);
          case "s" -> Duration.ofSeconds(number);
          case "min" -> Duration.ofMinutes(number);
          case "h" -> Duration.ofHours(number);
          default -> Duration.ofDays(number);
        });
  }

  /** The span under a key, up to the longest one. */
  static Duration read(Section section, String key, Duration otherwise, Duration most) {
    Optional<String> text = section.text(key);
    if (text.isEmpty()) {
      return otherwise;
    }
    Optional<Duration> span = parse(text.get()).filter(s -> s.compareTo(most) <= 0);
    if (span.isEmpty()) {
      section.problem(
          key,
          "%s cannot be '%s'; write a span such as 30 s, 5 min or 2 h, at most %d d"
              .formatted(key, text.get(), most.toDays()));
    }
    return span.orElse(otherwise);
  }
}
