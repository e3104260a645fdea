package dev.dusky.core.stream;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.split.PartCompression;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Locale;

/**
 * The paths of a stream's files: {@code {date}} becomes the day and {@code {time}} the time at
 * which the file was completed, both in UTC, and {@code {n}} a number that is never given twice.
 * The extension says how they are compressed.
 */
public final class StreamName {

  private static final DateTimeFormatter DATE =
      DateTimeFormatter.ofPattern("uuuu-MM-dd", Locale.ROOT);
  private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("HHmmss", Locale.ROOT);
  private static final String NUMBER = "{n}";

  private final String template;

  /** Names after a template. */
  public StreamName(String template) {
    this.template = template.replaceAll("^/+", "");
    String rest = this.template.replace("{date}", "").replace("{time}", "").replace(NUMBER, "");
    if (!this.template.contains(NUMBER) || rest.contains("{") || rest.contains("}")) {
      throw Failure.usage("'" + template + "' cannot name the files of a stream")
          .because("a name has {n} for their number, and may have {date} and {time}")
          .hint("Write one such as events/{date}/{time}-{n}.jsonl.zst");
    }
  }

  /**
   * The path of a file.
   *
   * @param completed when the file was completed
   * @param number a number that no other file of the stream has
   */
  public String path(Instant completed, long number) {
    var at = completed.atOffset(ZoneOffset.UTC);
    return template
        .replace("{date}", DATE.format(at))
        .replace("{time}", TIME.format(at))
        .replace(NUMBER, "%06d".formatted(number));
  }

  /** The template. */
  @Override
  public String toString() {
    return template;
  }

  /** How the files are compressed. */
  PartCompression compression() {
    return PartCompression.ofPath(template);
  }
}
