package dev.dusky.core.ledger;

/**
 * Rejects of posted files.
 *
 * @param open still to be settled
 * @param mended whose repaired record was loaded, removed ones counted
 * @param waived closed with a reason, removed ones counted
 */
public record RejectCounts(long open, long mended, long waived) {

  /** All of them. */
  public long recorded() {
    return open + mended + waived;
  }
}
