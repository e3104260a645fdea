package dev.dusky.core.balance;

import dev.dusky.core.ledger.FileState;
import java.util.Map;

/**
 * A feed's files in its depot.
 *
 * @param states the number of listed files in each state
 * @param gone posted files and twins that were to stay and are no longer listed
 * @param whole whether all days of the feed are listed, and not only those since its first one
 */
public record DepotCounts(Map<FileState, Integer> states, long gone, boolean whole) {

  /** Whether a posted file changed or disappeared. */
  public boolean changed() {
    return states.containsKey(FileState.REVISED) || gone > 0;
  }

  /** Whether a person should know of something. */
  public boolean attention() {
    return changed()
        || states.containsKey(FileState.REFUSED)
        || states.containsKey(FileState.WAITING);
  }
}
