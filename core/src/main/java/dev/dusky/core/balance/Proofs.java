package dev.dusky.core.balance;

import dev.dusky.core.merge.Merge;
import dev.dusky.core.table.TableName;
import java.util.List;
import java.util.Optional;

/** Compares the ledger with the tables that it describes. */
public interface Proofs {

  /** Compares the ledger of feeds with their landing tables; the proofs are in their order. */
  List<FeedProof> feeds(List<Landing> landings);

  /**
   * Compares the ledger of one feed with its landing table.
   *
   * @param totals the columns whose sums are kept
   */
  default FeedProof feed(String feed, TableName table, List<String> totals) {
    return feeds(List.of(new Landing(feed, table, totals))).get(0);
  }

  /** The number of paths of a feed that are posted or twins and were to stay in the depot. */
  long settledPaths(String feed);

  /** The number of rows of a table whose provenance the ledger does not know as posted. */
  long strays(TableName table);

  /** Compares the ledger of a merge with its tables; empty if its target does not exist. */
  Optional<MergeProof> merge(Merge merge);

  /** The chains in the target of a merge; empty if it keeps no history or its target is absent. */
  Optional<Chains> chains(Merge merge);
}
