package dev.dusky.warehouses;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.warehouse.TableName;
import dev.dusky.core.warehouse.TableShape;
import dev.dusky.warehouses.Reversal.Posted;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/** Undoes posted loads and files exactly. */
public final class Reversals {

  /**
   * What was, or would be, undone.
   *
   * @param loadId the reversing load, or 0 if nothing was written
   * @param files the paths, sorted
   * @param rows how many rows leave the table
   */
  public record Reversed(long loadId, List<String> files, long rows) {}

  /**
   * A load to undo.
   *
   * @param feed its feed
   * @param into its landing table
   * @param kind what it did
   */
  public record LoadHead(String feed, String into, String kind) {}

  private final JdbcWarehouse warehouse;

  Reversals(JdbcWarehouse warehouse) {
    this.warehouse = warehouse;
  }

  /** The load with this number. */
  public Optional<LoadHead> load(long id) {
    return warehouse.transact(
        "Looking for load " + id,
        c -> {
          try (PreparedStatement query =
              c.prepareStatement(
                  "select feed, into_table, kind from dusky.load where load_id = ?")) {
            query.setLong(1, id);
            try (ResultSet row = query.executeQuery()) {
              return row.next()
                  ? Optional.of(new LoadHead(row.getString(1), row.getString(2), row.getString(3)))
                  : Optional.empty();
            }
          }
        });
  }

  /** Undoes what a load posted, with all that was mended of its files since. */
  public Reversed load(LoadStart start, TableName table, long id, boolean mend, String why) {
    String condition =
        mend
            ? "t.load_id = ?"
            : "t.file_id in (select x.file_id from dusky.tally x where x.load_id = ?"
                + " and x.reversed_by is null and x.state in ('posted', 'twin'))";
    return reverse(start, table, condition, List.of(id), why);
  }

  /** Undoes what is posted of a file of the feed. */
  public Reversed file(LoadStart start, TableName table, String path, String why) {
    return reverse(start, table, "f.feed = ? and f.path = ?", List.of(start.feed(), path), why);
  }

  private Reversed reverse(
      LoadStart start, TableName name, String condition, List<Object> parameters, String why) {
    TableShape table =
        warehouse
            .shape(name)
            .orElseThrow(() -> Failure.warehouse("Table " + name + " does not exist"));
    if (!table.hasProvenance()) {
      throw Failure.warehouse("Rows of " + name + " cannot be taken out again")
          .because("the table has no provenance columns, so nobody knows which rows they are")
          .next("Add dl_load, dl_file and dl_row to the table for files that come");
    }
    Connection own = warehouse.connect();
    try {
      Reversal reversal = new Reversal(own, start, table);
      List<Posted> posted = lock(own, reversal, condition, parameters);
      long rows = posted.isEmpty() ? 0 : reversal.reverse(posted, why);
      own.commit();
      return new Reversed(
          reversal.loadId(),
          posted.stream().map(Posted::path).distinct().collect(Collectors.toList()),
          rows);
    } catch (SQLException e) {
      throw explained(own, name, e);
    } finally {
      warehouse.release(own);
    }
  }

  /** Holds the files, so that nobody mends or loads them meanwhile. */
  private List<Posted> lock(
      Connection own, Reversal reversal, String condition, List<Object> parameters)
      throws SQLException {
    List<Posted> posted = reversal.posted(condition, parameters);
    Long[] files = posted.stream().map(Posted::fileId).distinct().toArray(Long[]::new);
    try (PreparedStatement query =
        own.prepareStatement(
            "select file_id from dusky.file where file_id = any(?) "
                + warehouse.dialect().claimClause())) {
      query.setArray(1, own.createArrayOf("bigint", files));
      int held = 0;
      try (ResultSet row = query.executeQuery()) {
        while (row.next()) {
          held++;
        }
      }
      if (held < files.length) {
        throw Failure.warehouse("Nothing was reversed")
            .because("another load holds %d of the files".formatted(files.length - held))
            .next("Try again when it is done");
      }
    }
    return reversal.posted(condition, parameters);
  }

  private Failure explained(Connection own, TableName name, SQLException e) {
    String state = String.valueOf(e.getSQLState());
    if (state.startsWith("2350")) {
      warehouse.undo(own);
      return Failure.warehouse("Rows of " + name + " cannot be taken out")
          .because("other tables refer to them: " + SqlFailures.firstLine(e))
          .next("Take out what refers to them first. Nothing was changed")
          .from(e);
    }
    return warehouse.failed(own, "Taking rows out of " + name, e);
  }
}
