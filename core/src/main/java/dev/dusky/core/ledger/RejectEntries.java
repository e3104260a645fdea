package dev.dusky.core.ledger;

import dev.dusky.core.advice.ProblemGroups;
import dev.dusky.core.reject.StoredReject;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

/** The rejects in the ledger. */
public interface RejectEntries {

  /** Groups the problems of the chosen rejects. Memory does not grow with their number. */
  ProblemGroups groups(RejectChoice choice);

  /** Gives the chosen rejects with everything known of them, in the order of their files. */
  void forEach(RejectChoice choice, Consumer<StoredReject> taker);

  /** The first of the chosen rejects, up to a number. */
  List<StoredReject> list(RejectChoice choice, int most);

  /** The first occurrence of each kind of problem of a feed, by "column code". */
  Map<String, FirstReject> firsts(String feed);

  /** The rows read of each file of a feed in the load that found its rejects, by path. */
  Map<String, Long> rowsRead(String feed);

  /**
   * Waives the chosen open rejects with a reason that is kept.
   *
   * @return how many
   */
  long waive(RejectChoice choice, String by, String reason);

  /**
   * Deletes rejects that were settled before a moment; their number is kept.
   *
   * @return how many were deleted
   */
  long purge(Optional<String> feed, Instant before, String by);
}
