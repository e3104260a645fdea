package dev.dusky.core.load;

import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.tally.Tolerance;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * Notices when (almost) all records of a file fail the same way, which means that it is not a file
 * of this feed and not that each record is bad. Judged by the rejects that are kept in full.
 */
final class WrongFileDetector {

  /** Fewer records prove nothing. */
  private static final int LEAST_RECORDS = 20;

  private static final int PERCENT = 95;

  private final Map<String, Long> kinds = new HashMap<>();
  private long looked;
  private Reject first;

  void add(Reject reject) {
    looked++;
    first = first == null ? reject : first;
    reject.problems().stream()
        .map(WrongFileDetector::kind)
        .distinct()
        .forEach(kind -> kinds.merge(kind, 1L, Long::sum));
  }

  private static String kind(Problem problem) {
    return problem.column().isEmpty()
        ? problem.code().label()
        : problem.code().label() + " in " + problem.column();
  }

  /** The fault that (almost) all records share, if the tolerance does not accept them. */
  Optional<String> verdict(long read, long rejected, Tolerance tolerance) {
    if (read < LEAST_RECORDS || rejected * 100 < read * PERCENT || tolerance.allows(read, read)) {
      return Optional.empty();
    }
    List<String> common =
        kinds.entrySet().stream()
            .filter(kind -> kind.getValue() * 100 >= looked * PERCENT)
            .map(Map.Entry::getKey)
            .sorted()
            .toList();
    return common.isEmpty()
        ? Optional.empty()
        : Optional.of(common.stream().limit(3).collect(Collectors.joining(", ")));
  }

  /** The one reject for all of them, at the position of the first. */
  Reject reject(String message) {
    return new Reject(
        first.recordNumber(),
        first.line(),
        first.byteOffset(),
        first.place(),
        first.raw(),
        first.rawCut(),
        first.piece(),
        first.context(),
        List.of(new Problem(RejectCode.WRONG_FILE, "", "", message)));
  }
}
