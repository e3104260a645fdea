package dev.dusky.app.reject;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.RejectChoice;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.reject.RejectState;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * Which rejects are meant, as a person says it. Each part narrows the choice.
 *
 * @param column with a problem in this column
 * @param code with a problem of this code
 * @param path of this file
 * @param load found by this load
 */
public record RejectFilter(
    Optional<String> column,
    Optional<RejectCode> code,
    Optional<String> path,
    Optional<Long> load) {

  /** The filter of those parts, any of which may be null. */
  public static RejectFilter of(String column, String code, String path, Long load) {
    return new RejectFilter(
        Optional.ofNullable(column),
        Optional.ofNullable(code).map(RejectFilter::code),
        Optional.ofNullable(path),
        Optional.ofNullable(load));
  }

  /** Whether nothing narrows the choice. */
  public boolean isEmpty() {
    return column.isEmpty() && code.isEmpty() && path.isEmpty() && load.isEmpty();
  }

  /** The choice of a feed's rejects, or of these numbers. */
  public RejectChoice choice(Optional<String> feed, List<Long> ids, Optional<RejectState> state) {
    return new RejectChoice(feed, column, code, path, load, ids, state);
  }

  /** The state with that label; empty for any. */
  public static Optional<RejectState> state(String label) {
    if (label.equalsIgnoreCase("any")) {
      return Optional.empty();
    }
    for (RejectState state : RejectState.values()) {
      if (state.label().equals(label.toLowerCase(Locale.ROOT))) {
        return Optional.of(state);
      }
    }
    throw Failure.usage("There is no state '" + label + "' of rejects")
        .hint("It is one of open, mended, waived, any");
  }

  private static RejectCode code(String label) {
    for (RejectCode code : RejectCode.values()) {
      if (code.label().equals(label.toLowerCase(Locale.ROOT))) {
        return code;
      }
    }
    throw Failure.usage("There is no reject code '" + label + "'")
        .hint(
            "It is one of "
                + Arrays.stream(RejectCode.values())
                    .map(RejectCode::label)
                    .collect(Collectors.joining(", ")));
  }
}
