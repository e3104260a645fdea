package dev.dusky.core.ledger;

import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.reject.RejectState;
import java.util.List;
import java.util.Optional;

/**
 * Which rejects are meant. Each part narrows the choice.
 *
 * @param feed of this feed
 * @param column with a problem in this column
 * @param code with a problem of this code
 * @param path of this file
 * @param loadId found by this load
 * @param ids these numbers; empty for any
 * @param state in this state; empty for any
 */
public record RejectChoice(
    Optional<String> feed,
    Optional<String> column,
    Optional<RejectCode> code,
    Optional<String> path,
    Optional<Long> loadId,
    List<Long> ids,
    Optional<RejectState> state) {

  /** All open ones, of one feed or of all. */
  public static RejectChoice open(Optional<String> feed) {
    return new RejectChoice(
        feed,
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        List.of(),
        Optional.of(RejectState.OPEN));
  }

  /** These numbers, whatever their state. */
  public static RejectChoice ids(List<Long> ids) {
    return new RejectChoice(
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        ids,
        Optional.empty());
  }
}
