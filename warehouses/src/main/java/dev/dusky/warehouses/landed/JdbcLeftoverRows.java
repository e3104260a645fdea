package dev.dusky.warehouses.landed;

import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.table.TableName;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.warehouses.connection.Dialect;
import dev.dusky.warehouses.connection.Identifiers;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;
import org.jdbi.v3.core.Handle;

/** Rows with leftovers in the ledger's own database. */
public final class JdbcLeftoverRows implements LeftoverRows {

  private static final int BATCH = 1_000;
  private static final String SCRATCH = "dusky_promoted";

  /** A row and its leftovers. */
  private record Row(long load, long file, long number, String leftovers) {}

  @FunctionalInterface
  private interface Taker {
    void take(List<Row> rows) throws SQLException;
  }

  private final Dialect dialect;

  /** The rows in databases of that dialect. */
  public JdbcLeftoverRows(Dialect dialect) {
    this.dialect = dialect;
  }

  @Override
  public void scan(Handle ledger, TableName table, Consumer<List<String>> taker)
      throws SQLException {
    each(ledger, table, rows -> taker.accept(leftovers(rows)));
  }

  private static List<String> leftovers(List<Row> rows) {
    return rows.stream().map(Row::leftovers).toList();
  }

  private void each(Handle ledger, TableName table, Taker taker) throws SQLException {
    String sql =
        "select dusky_load, dusky_file, dusky_row, cast(leftovers as %s) from %s where %s is not null"
            .formatted(
                dialect.embedded() ? "varchar" : "text",
                Identifiers.quote(table),
                Identifiers.quote(DriftPolicy.LEFTOVERS));
    List<Row> rows = new ArrayList<>();
    try (Statement statement = ledger.getConnection().createStatement()) {
      statement.setFetchSize(BATCH);
      try (ResultSet row = statement.executeQuery(sql)) {
        while (row.next()) {
          rows.add(new Row(row.getLong(1), row.getLong(2), row.getLong(3), row.getString(4)));
          if (rows.size() == BATCH) {
            taker.take(rows);
            rows.clear();
          }
        }
      }
    }
    if (!rows.isEmpty()) {
      taker.take(rows);
    }
  }

  @Override
  public long move(
      Handle ledger,
      TableName table,
      String column,
      SqlType type,
      Function<List<String>, List<Optional<Moved>>> change)
      throws SQLException {
    String name = dialect.typeName(type);
    String json = dialect.embedded() ? "? format json" : "cast(? as json)";
    String value = type.kind() == TypeKind.JSON ? json : "cast(? as " + name + ")";
    try (Statement statement = ledger.getConnection().createStatement()) {
      statement.execute(
          dialect.makeScratch(
              "%s (l bigint, f bigint, r bigint, v %s, rest json)".formatted(SCRATCH, name)));
    }
    String sql = "insert into %s values (?, ?, ?, %s, %s)".formatted(SCRATCH, value, json);
    try (PreparedStatement insert = ledger.getConnection().prepareStatement(sql)) {
      each(
          ledger,
          table,
          rows -> {
            List<Optional<Moved>> moved = change.apply(leftovers(rows));
            for (int i = 0; i < rows.size(); i++) {
              if (moved.get(i).isPresent()) {
                insert.setLong(1, rows.get(i).load());
                insert.setLong(2, rows.get(i).file());
                insert.setLong(3, rows.get(i).number());
                insert.setString(4, moved.get(i).get().value());
                insert.setString(5, moved.get(i).get().rest());
                insert.addBatch();
              }
            }
            insert.executeBatch();
          });
    }
    String update =
        """
        merge into %s t using %s s
        on (t.dusky_load = s.l and t.dusky_file = s.f and t.dusky_row = s.r)
        when matched then update set %s = s.v, %s = s.rest"""
            .formatted(
                Identifiers.quote(table),
                SCRATCH,
                Identifiers.quote(column),
                Identifiers.quote(DriftPolicy.LEFTOVERS));
    try (Statement statement = ledger.getConnection().createStatement()) {
      return statement.executeLargeUpdate(update);
    }
  }
}
