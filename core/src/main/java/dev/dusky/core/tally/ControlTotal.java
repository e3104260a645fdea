package dev.dusky.core.tally;

import java.math.BigDecimal;
import java.util.Optional;

/**
 * The sum of one column over a file.
 *
 * @param column the column
 * @param loaded over the rows in the table
 * @param others over the other records, as far as their value can be read
 * @param duplicate over the repeats that were left out
 * @param expected what the sender states of the whole file
 */
public record ControlTotal(
    String column,
    BigDecimal loaded,
    BigDecimal others,
    BigDecimal duplicate,
    Optional<BigDecimal> expected) {

  /** The sum over the whole file, as far as it can be read. */
  public BigDecimal all() {
    return loaded.add(others).add(duplicate);
  }

  /** The same for a file whose rows are in the table already. */
  public ControlTotal asDuplicate() {
    return new ControlTotal(column, BigDecimal.ZERO, BigDecimal.ZERO, all(), expected);
  }
}
