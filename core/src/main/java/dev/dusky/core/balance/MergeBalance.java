package dev.dusky.core.balance;

import dev.dusky.core.merge.Merge;
import java.util.Optional;

/**
 * Whether a merge's ledger and tables agree.
 *
 * @param merge the merge
 * @param proof its ledger against its tables; empty if the target does not exist yet
 */
public record MergeBalance(Merge merge, Optional<MergeProof> proof) {

  /** Whether they agree in everything. */
  public boolean agrees() {
    return proof.map(MergeBalance::agrees).orElse(true);
  }

  private static boolean agrees(MergeProof proof) {
    return proof.tally().balanced()
        && proof.inLedger() == proof.inTarget()
        && proof.twice().isEmpty()
        && proof.chains().isEmpty()
        && proof.tally().rejected() == proof.rejectsRecorded()
        && proof.contradictions().isEmpty()
        && proof.sums().stream().allMatch(MergeSum::agrees);
  }
}
