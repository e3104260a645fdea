package dev.dusky.core.balance;

import java.math.BigDecimal;

/**
 * The sum of a column on its way.
 *
 * @param column the column
 * @param files over all posted files and twins of the landing table's feeds
 * @param duplicate of it, over repeats and twins
 * @param rejected of it, over rows that were rejected or left out, while loading or merging
 * @param superseded of it, over landed rows that gave way, or said what was there already
 * @param replaced what the target had before, and was replaced or removed
 * @param waiting of it, over rows that are not merged yet
 * @param before what the target had before the first merge
 * @param inLedger what the target should have, by the merges
 * @param inTarget what it has
 * @param reversed what left the landing table after it was merged, and the target still has
 */
public record MergeSum(
    String column,
    BigDecimal files,
    BigDecimal duplicate,
    BigDecimal rejected,
    BigDecimal superseded,
    BigDecimal replaced,
    BigDecimal waiting,
    BigDecimal before,
    BigDecimal inLedger,
    BigDecimal inTarget,
    BigDecimal reversed) {

  /** Whether every part of it is accounted for. */
  public boolean agrees() {
    BigDecimal parts =
        inTarget
            .subtract(before)
            .add(duplicate)
            .add(rejected)
            .add(superseded)
            .add(replaced)
            .add(waiting)
            .subtract(reversed);
    return inLedger.compareTo(inTarget) == 0 && parts.compareTo(files) == 0;
  }
}
