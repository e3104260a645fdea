package dev.dusky.warehouses.merging;

import dev.dusky.core.merge.MergeStep;
import dev.dusky.core.usage.Meter;
import dev.dusky.warehouses.script.MergeScript;
import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * What a statement did that ranks and writes landed rows in one pass.
 *
 * @param sums the sums of the merge's totals, in their order
 */
public record Pass(long inserted, long updated, long unchanged, List<PassSums> sums) {

  private static final Logger LOG = LoggerFactory.getLogger(Pass.class);

  /**
   * Runs such a statement.
   *
   * @param totals how many columns it sums
   */
  static Pass run(Connection connection, MergeStep step, MergeScript script, int totals)
      throws SQLException {
    long began = System.nanoTime();
    try (Statement statement = connection.createStatement();
        ResultSet row = Meter.waiting(() -> statement.executeQuery(step.sql()))) {
      LOG.debug("{} ms: {}", (System.nanoTime() - began) / 1_000_000, step.comment());
      row.next();
      long unchanged = numbers(connection, script.unchangedCount(), 1).get(0).longValueExact();
      String sql = script.olderSums();
      List<BigDecimal> older = sql.isEmpty() ? List.of() : numbers(connection, sql, totals);
      return new Pass(
          row.getLong("inserted"),
          row.getLong("updated"),
          unchanged,
          PassSums.read(row, totals, older));
    }
  }

  private static List<BigDecimal> numbers(Connection connection, String sql, int count)
      throws SQLException {
    try (Statement statement = connection.createStatement();
        ResultSet row = statement.executeQuery(sql)) {
      row.next();
      List<BigDecimal> numbers = new ArrayList<>();
      for (int i = 1; i <= count; i++) {
        numbers.add(row.getBigDecimal(i));
      }
      return numbers;
    }
  }
}
