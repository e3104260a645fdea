package dev.dusky.core.balance;

import dev.dusky.core.feed.Feed;
import java.util.Optional;

/**
 * Whether a feed's ledger, table and depot agree.
 *
 * @param feed the feed
 * @param proof its ledger against its table
 * @param strays rows of the table that belong to no posted file
 * @param depot its files, if the depot was listed
 */
public record FeedBalance(Feed feed, FeedProof proof, long strays, Optional<DepotCounts> depot) {

  /** The number of rows that the table should have. */
  public long booked() {
    return proof.tally().loaded() + proof.mended();
  }

  /** Whether the table has those rows. Without provenance it may have others too. */
  public boolean rowsAgree() {
    return proof.provenance()
        ? proof.differences().isEmpty() && proof.tableRows() == booked()
        : proof.tableRows() >= booked();
  }

  /** Whether all rejects are recorded, up to the feed's cap. */
  public boolean rejectsAgree() {
    long expected = proof.tally().rejected();
    long recorded = proof.rejects().recorded();
    return recorded == expected || recorded < expected && recorded >= feed.rejectCap();
  }

  /** Whether the sums of all columns agree. */
  public boolean totalsAgree() {
    return proof.totals().stream().allMatch(TotalCheck::agrees);
  }

  /** Whether ledger and table agree in everything. */
  public boolean tablesAgree() {
    return proof.tally().balanced()
        && rowsAgree()
        && rejectsAgree()
        && totalsAgree()
        && strays == 0
        && proof.contradictions().isEmpty();
  }

  /** Whether the depot has each posted file as it was. */
  public boolean depotAgrees() {
    return depot.map(counts -> !counts.changed()).orElse(true);
  }
}
