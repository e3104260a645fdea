package dev.dusky.core.balance;

import dev.dusky.core.ledger.RejectCounts;
import dev.dusky.core.tally.Tally;
import java.util.List;

/**
 * The ledger of one feed against its landing table.
 *
 * @param files posted files and twins
 * @param tally the sum of their tallies
 * @param tableRows rows of the table that carry the feed's provenance, or all its rows if it has no
 *     provenance columns
 * @param provenance whether the table has them
 * @param differences files whose row counts disagree
 * @param mended rows that came in later for rejects that were mended
 * @param rejects the rejects of posted files in the ledger, by their state
 * @param totals the sums of columns, in ledger and table
 * @param contradictions what contradicts itself in the ledger, in words
 */
public record FeedProof(
    long files,
    Tally tally,
    long tableRows,
    boolean provenance,
    List<Difference> differences,
    long mended,
    RejectCounts rejects,
    List<TotalCheck> totals,
    List<String> contradictions) {}
