package dev.dusky.core.balance;

import dev.dusky.core.table.TableName;
import java.util.List;

/**
 * A feed whose ledger is to be compared with its table.
 *
 * @param feed its name
 * @param table its landing table
 * @param totals the columns whose sums are kept
 */
public record Landing(String feed, TableName table, List<String> totals) {

  public Landing {
    totals = List.copyOf(totals);
  }
}
