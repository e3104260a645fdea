package dev.dusky.warehouses.merging;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeTally;
import dev.dusky.core.merge.SnapshotPolicy;
import dev.dusky.warehouses.script.MergeRequest;
import dev.dusky.warehouses.script.MergeRequest.PostedFile;
import dev.dusky.warehouses.script.MergeScript;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.sql.SQLException;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;

/** How many landed rows of a merge have which outcome, before anything is written. */
final class MergeCensus {

  private final Merge merge;
  private final MergeWork work;
  private final MergeScript script;
  private final MergeRequest request;

  MergeCensus(Merge merge, MergeWork work, MergeScript script, MergeRequest request) {
    this.merge = merge;
    this.work = work;
    this.script = script;
    this.request = request;
  }

  /**
   * Counts the outcomes.
   *
   * @param expected how many rows have landed by the ledger, or -1 if unknown
   * @param pass what was counted already, if the rows were judged in one pass
   * @throws Failure if the source has other rows than the ledger, or if a snapshot lacks too much
   */
  MergeTally count(long expected, Optional<Pass> pass) throws SQLException {
    Map<String, Long> outcomes = new HashMap<>();
    long landed = work.number(script.landedCount());
    work.read(
        script.census(),
        row -> outcomes.merge((String) row.get(0), ((Number) row.get(1)).longValue(), Long::sum));
    if (outcomes.containsKey("pending") || outcomes.containsKey(null)) {
      throw new IllegalStateException("rows without outcome: " + outcomes);
    }
    pass.ifPresent(
        p -> {
          outcomes.merge("inserted", p.inserted(), Long::sum);
          outcomes.merge("updated", p.updated(), Long::sum);
          outcomes.merge("unchanged", p.unchanged(), Long::sum);
        });
    boolean limited = request.highWater().isPresent();
    if (expected >= 0 && landed != expected && !limited) {
      throw Failure.warehouse("Merge %s stopped".formatted(merge.name()))
          .because(
              "the ledger has %,d landed rows to merge, the source has %,d"
                  .formatted(expected, landed))
          .hint("See what differs with {}. Nothing was changed", Invocation.of("balance"));
    }
    long all = expected >= 0 && limited ? expected : landed;
    long inserted = outcomes.getOrDefault("inserted", 0L);
    long updated = outcomes.getOrDefault("updated", 0L);
    long unchanged = outcomes.getOrDefault("unchanged", 0L);
    long deleted = outcomes.getOrDefault("deleted", 0L);
    long rejected = 0;
    for (String code : MergeChecks.REJECTS) {
      rejected += outcomes.getOrDefault(code, 0L);
    }
    long superseded = all - inserted - updated - unchanged - deleted - rejected;
    return new MergeTally(
        all,
        inserted,
        updated,
        unchanged,
        superseded,
        deleted,
        rejected,
        request.sweep() ? swept() : 0);
  }

  /** How many rows go because the snapshot lacks them, if that is within bounds. */
  private long swept() throws SQLException {
    SnapshotPolicy missing = merge.missing().orElseThrow();
    long[] counts = new long[2];
    work.read(
        script.sweepCount(),
        row -> {
          counts[0] = ((Number) row.get(0)).longValue();
          counts[1] = ((Number) row.get(1)).longValue();
        });
    long live = counts[0];
    long gone = counts[1];
    boolean tooMany =
        BigDecimal.valueOf(gone)
                .movePointRight(2)
                .compareTo(missing.most().multiply(BigDecimal.valueOf(live)))
            > 0;
    if (tooMany) {
      String snapshot = request.file().map(PostedFile::path).orElse("");
      throw Failure.warehouse(
              "Merge %s stopped: the snapshot %s lacks too much".formatted(merge.name(), snapshot))
          .because(
              "%,d of %,d live rows of %s would be removed, %s%%; the maximum is %s%%"
                  .formatted(
                      gone,
                      live,
                      merge.into(),
                      BigDecimal.valueOf(gone * 100)
                          .divide(BigDecimal.valueOf(live), 1, RoundingMode.HALF_UP),
                      missing.most().toPlainString()))
          .hint(
              "Check that the snapshot is complete; if it is, raise at-most under missing."
                  + " Nothing of this snapshot was merged; earlier snapshots stay merged");
    }
    return gone;
  }
}
