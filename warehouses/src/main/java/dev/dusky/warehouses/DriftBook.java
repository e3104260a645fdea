package dev.dusky.warehouses;

import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** The drifts of files as commands read them. */
public final class DriftBook {

  /** One way in which a file differed from its feed. */
  public record DriftLine(
      String feed,
      long loadId,
      String path,
      String fileState,
      String field,
      String change,
      String seen,
      String action,
      long records,
      String example,
      Optional<String> statement,
      String remark,
      Instant at) {}

  private final JdbcWarehouse warehouse;

  DriftBook(JdbcWarehouse warehouse) {
    this.warehouse = warehouse;
  }

  /** The newest drifts, newest first; of a feed, a load and a file if they are given. */
  public List<DriftLine> drifts(
      Optional<String> feed, Optional<Long> load, Optional<String> path, int most) {
    String sql =
        """
        select feed, load_id, path, file_state, field, change, seen, action, record_count, example,
               statement, remark, started_at
        from dusky.drift_detail
        where (cast(? as varchar(200)) is null or feed = ?)
          and (cast(? as bigint) is null or load_id = ?)
          and (cast(? as varchar(1100)) is null or path = ?)
        order by load_id desc, path, field, change limit ?""";
    return warehouse.transact(
        "Reading drifts",
        c -> {
          List<DriftLine> lines = new ArrayList<>();
          try (PreparedStatement query = c.prepareStatement(sql)) {
            for (int i = 0; i < 2; i++) {
              query.setString(1 + i, feed.orElse(null));
              query.setObject(3 + i, load.orElse(null), java.sql.Types.BIGINT);
              query.setString(5 + i, path.orElse(null));
            }
            query.setInt(7, most);
            try (ResultSet row = query.executeQuery()) {
              while (row.next()) {
                lines.add(
                    new DriftLine(
                        row.getString(1),
                        row.getLong(2),
                        row.getString(3),
                        row.getString(4),
                        row.getString(5),
                        row.getString(6),
                        row.getString(7),
                        row.getString(8),
                        row.getLong(9),
                        row.getString(10),
                        Optional.ofNullable(row.getString(11)),
                        row.getString(12),
                        row.getTimestamp(13).toInstant()));
              }
            }
          }
          return lines;
        });
  }
}
