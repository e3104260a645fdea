package dev.dusky.core.mend;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.RejectChoice;
import dev.dusky.core.ledger.RejectEntries;
import dev.dusky.core.reject.RejectState;
import dev.dusky.core.reject.StoredReject;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Function;

/** Matches the records of a repaired file with the rejects in the ledger. */
public final class RepairMatcher {

  /**
   * A record of the file that mends nothing.
   *
   * @param line its line in the file
   * @param why the reason, to be read behind the line
   */
  public record Unmatched(long line, String why) {}

  /**
   * The records of a file.
   *
   * @param feed the feed that most of its rejects belong to
   * @param repairs the records that mend an open reject
   * @param unmatched the others
   */
  public record Matched(Feed feed, List<Repair> repairs, List<Unmatched> unmatched) {}

  private final RejectEntries rejects;
  private final Function<String, Feed> feeds;
  private final List<Repair> repairs = new ArrayList<>();
  private final List<Unmatched> unmatched = new ArrayList<>();

  /**
   * A matcher for one file.
   *
   * @param feeds finds a feed by its name
   */
  public RepairMatcher(RejectEntries rejects, Function<String, Feed> feeds) {
    this.rejects = rejects;
    this.feeds = feeds;
  }

  /**
   * Reads and matches a file.
   *
   * @throws Failure of kind FILE if no reject of it is in the ledger
   */
  public Matched match(String name, RepairedFile file) throws IOException {
    List<Long> numbers = file.numbers();
    List<StoredReject> known = rejects.list(RejectChoice.ids(numbers), numbers.size());
    if (known.isEmpty()) {
      throw Failure.file(name + " cannot be mended here")
          .because("there is no reject %d in this ledger".formatted(numbers.get(0)))
          .hint("Was it exported from another warehouse?");
    }
    Feed feed = feeds.apply(mostCommon(known));
    Map<Long, RepairedFile.Line> lines = new LinkedHashMap<>();
    for (RepairedFile.Line line : file.read(feed)) {
      RepairedFile.Line before = line.number() < 0 ? null : lines.get(line.number());
      if (line.number() < 0) {
        leave(line, "has no reject number; it was left out");
      } else if (before != null) {
        leave(
            line,
            "has reject %d, which line %d has too; it was left out"
                .formatted(line.number(), before.line()));
      } else {
        lines.put(line.number(), line);
      }
    }
    if (!lines.isEmpty()) {
      match(feed, lines);
    }
    return new Matched(feed, repairs, unmatched);
  }

  private static String mostCommon(List<StoredReject> known) {
    Map<String, Long> counts = new TreeMap<>();
    known.forEach(reject -> counts.merge(reject.feed(), 1L, Long::sum));
    return Collections.max(counts.entrySet(), Map.Entry.comparingByValue()).getKey();
  }

  private void match(Feed feed, Map<Long, RepairedFile.Line> lines) throws IOException {
    Map<Long, StoredReject> known = new HashMap<>();
    rejects.forEach(
        RejectChoice.ids(List.copyOf(lines.keySet())), reject -> known.put(reject.id(), reject));
    for (RepairedFile.Line line : lines.values()) {
      StoredReject reject = known.get(line.number());
      if (reject == null) {
        leave(
            line, "has reject %d, which does not exist; it was left out".formatted(line.number()));
      } else if (!reject.feed().equals(feed.name())) {
        leave(
            line,
            "has reject %d of feed %s, not of %s; it was left out"
                .formatted(line.number(), reject.feed(), feed.name()));
      } else if (reject.state() != RejectState.OPEN) {
        leave(
            line,
            "has reject %d, which was %s by %s; nothing was done with it"
                .formatted(
                    line.number(), reject.state().label(), reject.settledBy().orElse("someone")));
      } else {
        repairs.add(RepairedFile.repair(feed, reject, line));
      }
    }
  }

  private void leave(RepairedFile.Line line, String why) {
    unmatched.add(new Unmatched(line.line(), why));
  }
}
