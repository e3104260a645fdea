package dev.dusky.core.balance;

import java.math.BigDecimal;

/** The sum of a column over the feed's rows, in the ledger and in the table. */
public record TotalCheck(String column, BigDecimal inLedger, BigDecimal inTable) {

  /** Whether both are equal. */
  public boolean agrees() {
    return inLedger.compareTo(inTable) == 0;
  }
}
