package dev.dusky.core.mend;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.record.NumberedRecords;
import dev.dusky.core.reject.StoredReject;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;

/** A file of rejects as it comes back from repair. */
public final class RepairedFile {

  /**
   * One record of it.
   *
   * @param number the number of its reject, or -1
   * @param line the line on which it is
   * @param preamble what must precede its bytes to read them
   * @param raw its bytes
   */
  public record Line(long number, long line, byte[] preamble, byte[] raw) {}

  private static final int LOOK = 256 << 10;
  private static final int MOST_NUMBERS = 1000;

  /** A number as an attribute or member, or at the beginning of a line. */
  private static final Pattern ANY =
      Pattern.compile(
          "\"?%s\"?\\s*[:=]\\s*[\"']?(\\d{1,18})|(?m)^\\s*\"?(\\d{1,18})\"?\\s*[^\\w\\s]"
              .formatted(NumberedRecords.NUMBER));

  private final Path path;

  /** A file on this machine. */
  public RepairedFile(Path path) {
    this.path = path;
  }

  /** The first reject numbers in it, any of which identifies its feed. */
  public List<Long> numbers() throws IOException {
    if (!Files.isRegularFile(path)) {
      throw Failure.usage("There is no file " + path)
          .hint(
              "Write one with {}, or read open rejects again with --retry",
              Invocation.of("rejects", "export"));
    }
    try (InputStream in = Files.newInputStream(path)) {
      String head = new String(in.readNBytes(LOOK), StandardCharsets.ISO_8859_1);
      List<Long> numbers =
          ANY.matcher(head.replace("\0", ""))
              .results()
              .limit(MOST_NUMBERS)
              .map(m -> Long.parseLong(m.group(1) == null ? m.group(2) : m.group(1)))
              .distinct()
              .toList();
      if (numbers.isEmpty()) {
        throw Failure.file(path + " has no reject numbers")
            .because("no record begins with one")
            .hint(
                "Export the rejects again, and keep the column or member "
                    + NumberedRecords.NUMBER
                    + " as it is");
      }
      return numbers;
    }
  }

  /** The repair that a record of the file is, for its reject. */
  public static Repair repair(Feed feed, StoredReject reject, Line line) {
    boolean json = new NumberedRecords(feed.layout()).extension().equals("jsonl");
    return new Repair(reject, json ? reject.preamble() : line.preamble(), line.raw());
  }

  /** All its records, read in the layout of that feed. */
  public List<Line> read(Feed feed) throws IOException {
    List<Line> lines = new ArrayList<>();
    try (InputStream in = new BufferedInputStream(Files.newInputStream(path))) {
      new NumberedRecords(feed.layout())
          .read(
              path.getFileName().toString(),
              in,
              (number, line, preamble, raw) -> lines.add(new Line(number, line, preamble, raw)));
    }
    return lines;
  }
}
