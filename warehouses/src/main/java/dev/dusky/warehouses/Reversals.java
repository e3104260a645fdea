package dev.dusky.warehouses;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableShape;
import dev.dusky.warehouses.Reversal.Posted;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
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
   * Rows that were merged before they are taken out.
   *
   * @param merge the merge
   * @param mergeId its run
   * @param into the target, which keeps them
   * @param rows how many rows it took of what is undone
   */
  public record Merged(String merge, long mergeId, String into, long rows) {}

  /**
   * A load to undo.
   *
   * @param feed its feed
   * @param into its landing table
   * @param kind what it did
   */
  public record LoadHead(String feed, String into, String kind) {}

  private final JdbcWarehouse warehouse;
  private Optional<java.util.function.Consumer<Merged>> merged = Optional.empty();

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

  /** The same also where rows are merged already; those that are are told. */
  public Reversals evenMerged(java.util.function.Consumer<Merged> taker) {
    Reversals even = new Reversals(warehouse);
    even.merged = Optional.of(taker);
    return even;
  }

  /** Refuses to undo what is merged, unless told to go on. */
  private void checkMerged(Connection own, List<Posted> posted) throws SQLException {
    List<Merged> found = new ArrayList<>();
    try (PreparedStatement query =
        own.prepareStatement(
            "select m.merge_name, m.merge_id, r.into_table, sum(m.landed_rows)"
                + " from dusky.merge_file m join dusky.merge_run r on r.merge_id = m.merge_id"
                + " where m.load_id = any(?) and m.file_id = any(?)"
                + " and exists (select 1 from dusky.tally t where t.load_id = m.load_id"
                + " and t.file_id = m.file_id and t.reversed_by is null)"
                + " group by m.merge_name, m.merge_id, r.into_table order by m.merge_id")) {
      query.setArray(
          1, own.createArrayOf("bigint", posted.stream().map(Posted::loadId).toArray(Long[]::new)));
      query.setArray(
          2, own.createArrayOf("bigint", posted.stream().map(Posted::fileId).toArray(Long[]::new)));
      try (ResultSet row = query.executeQuery()) {
        while (row.next()) {
          found.add(new Merged(row.getString(1), row.getLong(2), row.getString(3), row.getLong(4)));
        }
      }
    }
    if (!found.isEmpty() && merged.isEmpty()) {
      throw Failure.warehouse("Nothing was reversed")
          .because(
              found.stream()
                  .map(
                      m ->
                          "%,d of the rows are merged into %s (merge %d)"
                              .formatted(m.rows(), m.into(), m.mergeId()))
                  .collect(Collectors.joining(", ")))
          .next(
              "Add --even-merged to go on: the target keeps what was merged, until the file is"
                  + " loaded and merged again");
    }
    merged.ifPresent(found::forEach);
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
          .next("Add dusky_load, dusky_file and dusky_row to the table for files that come");
    }
    Connection own = warehouse.connect();
    try {
      Reversal reversal = new Reversal(own, start, table);
      List<Posted> posted = lock(own, reversal, condition, parameters);
      checkMerged(own, posted);
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
