package dev.dusky.warehouses.merging;

import java.math.BigDecimal;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

/**
 * The sums of one column over the rows of a statement that ranks and writes in one pass.
 *
 * @param landed over all landed rows, also those that are set aside
 * @param unchanged over landed rows that the target has already
 * @param replaced over the values that the updated rows had
 */
public record PassSums(
    BigDecimal landed,
    BigDecimal inserted,
    BigDecimal updated,
    BigDecimal unchanged,
    BigDecimal replaced) {

  /**
   * Reads them from the statement's row.
   *
   * @param columns how many columns are summed
   * @param older the sums over landed rows that are older than what is there; none if none are
   */
  static List<PassSums> read(ResultSet row, int columns, List<BigDecimal> older)
      throws SQLException {
    List<PassSums> sums = new ArrayList<>();
    for (int i = 0; i < columns; i++) {
      BigDecimal inserted = row.getBigDecimal("inserted" + i);
      BigDecimal updated = row.getBigDecimal("updated" + i);
      BigDecimal unchanged = row.getBigDecimal("chosen" + i).subtract(inserted).subtract(updated);
      sums.add(
          new PassSums(
              row.getBigDecimal("landed" + i),
              inserted,
              updated,
              older.isEmpty() ? unchanged : unchanged.subtract(older.get(i)),
              row.getBigDecimal("replaced" + i)));
    }
    return sums;
  }
}
