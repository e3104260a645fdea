package dev.dusky.core.source;

import dev.dusky.core.type.TypeKind;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.LongVector;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Exact sums of columns over the rows of a file. */
final class BatchSums {

  private final List<SourceColumn> columns;
  private final List<Integer> summed = new ArrayList<>();
  private final BigInteger[] sums;
  private long rows;

  /**
   * Sums of those of the columns that are whole or decimal numbers.
   *
   * @param wanted names of columns
   */
  BatchSums(List<SourceColumn> columns, Set<String> wanted) {
    this.columns = columns;
    this.sums = new BigInteger[columns.size()];
    for (int c = 0; c < columns.size(); c++) {
      TypeKind kind = columns.get(c).type().kind();
      if (wanted.contains(columns.get(c).name())
          && (kind.isInteger() || kind == TypeKind.DECIMAL)) {
        summed.add(c);
        sums[c] = BigInteger.ZERO;
      }
    }
  }

  void add(SourceBatch batch) {
    rows += batch.rows();
    for (int c : summed) {
      ColumnVector vector = batch.column(c);
      for (int row = 0; row < batch.rows(); row++) {
        if (!vector.isNull(row)) {
          sums[c] = sums[c].add(value(vector, row));
        }
      }
    }
  }

  private static BigInteger value(ColumnVector vector, int row) {
    return vector instanceof LongVector longs
        ? BigInteger.valueOf(longs.get(row))
        : ((DecimalVector) vector).get(row).unscaledValue();
  }

  long rows() {
    return rows;
  }

  Map<String, BigDecimal> totals() {
    Map<String, BigDecimal> totals = new LinkedHashMap<>();
    for (int c : summed) {
      totals.put(columns.get(c).name(), new BigDecimal(sums[c], columns.get(c).type().scale()));
    }
    return totals;
  }
}
