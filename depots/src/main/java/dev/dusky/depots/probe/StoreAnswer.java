package dev.dusky.depots.probe;

import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeParseException;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * An endpoint's refusal of a request.
 *
 * @param status the HTTP status
 * @param code the error code of the protocol, or an empty string
 * @param says the server's own message, shortened, or an empty string
 * @param region the region that the server names, if any
 * @param location where the server redirects to, if anywhere
 * @param skew by how much this machine's clock is ahead of the server's, if it gave a date
 * @param html whether the body is a web page
 * @param plain whether the body complains that http was sent to a port of https
 */
public record StoreAnswer(
    int status,
    String code,
    String says,
    Optional<String> region,
    Optional<String> location,
    Optional<Duration> skew,
    boolean html,
    boolean plain) {

  private static final int MOST_WORDS = 300;
  private static final Pattern REGION = Pattern.compile("<Region>([A-Za-z0-9-]{1,40})</Region>");
  private static final Pattern PLAIN =
      Pattern.compile("plain HTTP request|HTTP request to an HTTPS", Pattern.CASE_INSENSITIVE);
  private static final Pattern HTML =
      Pattern.compile("\\A\\s*(<!doctype html|<html)", Pattern.CASE_INSENSITIVE);

  /** An answer without a reason. */
  public static StoreAnswer bare(int status) {
    return new StoreAnswer(
        status, "", "", Optional.empty(), Optional.empty(), Optional.empty(), false, false);
  }

  /**
   * An answer that gives a reason.
   *
   * @param code the error code, or null
   * @param says the server's own message, or null
   * @param body the answer's body as text, or its beginning
   * @param header gives the first value of a header, if it is there
   */
  public static StoreAnswer of(
      int status,
      String code,
      String says,
      String body,
      Function<String, Optional<String>> header) {
    Matcher named = REGION.matcher(body);
    return new StoreAnswer(
        status,
        code == null ? "" : code,
        shortened(says == null ? "" : says),
        header
            .apply("x-amz-bucket-region")
            .or(() -> named.find() ? Optional.of(named.group(1)) : Optional.empty()),
        header.apply("Location"),
        header.apply("Date").flatMap(StoreAnswer::skew),
        HTML.matcher(body).find(),
        PLAIN.matcher(body).find());
  }

  private static String shortened(String text) {
    String line = text.strip().replaceAll("\\s+", " ");
    return line.length() <= MOST_WORDS ? line : line.substring(0, MOST_WORDS) + "…";
  }

  private static Optional<Duration> skew(String date) {
    try {
      Instant there = Instant.from(DateTimeFormatter.RFC_1123_DATE_TIME.parse(date));
      return Optional.of(Duration.between(there, Instant.now()));
    } catch (DateTimeParseException e) {
      return Optional.empty(); // a server without a readable date gives no evidence about clocks
    }
  }

  /** Whether the error code is one of these. */
  public boolean is(String... codes) {
    for (String each : codes) {
      if (code.equals(each)) {
        return true;
      }
    }
    return false;
  }

  /** Whether code or message contain a word, in any case. */
  public boolean mentions(String word) {
    return (code + " " + says).toLowerCase(Locale.ROOT).contains(word);
  }

  /** The clocks' difference in words. */
  public String skewWords() {
    return skew.map(
            d ->
                "this machine's clock is %,d s %s the store's"
                    .formatted(Math.abs(d.toSeconds()), d.isNegative() ? "behind" : "ahead of"))
        .orElse("this machine's clock differs too much from the store's");
  }

  /** Status, code and the server's own message. */
  public String words() {
    String answer = ("the endpoint answered " + status + " " + code).strip();
    return says.isEmpty() || says.equals(code) ? answer : answer + ", \"" + says + "\"";
  }
}
