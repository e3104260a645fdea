package dev.dusky.warehouses.landed;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.MergedRows;
import dev.dusky.core.ledger.PostedRows;
import dev.dusky.core.ledger.Reversed;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.warehouse.Reversals;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.JdbcTransaction;
import dev.dusky.warehouses.ledger.Replacements;
import dev.dusky.warehouses.ledger.Reversal;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.JdbiException;

/** Reversals where ledger and tables are one database. */
public final class JdbcReversals implements Reversals {

  private static final String MERGED =
      """
      select m.merge_name, m.merge_id, r.into_table, sum(m.landed_rows) as landed
      from dusky.merge_file m join dusky.merge_run r on r.merge_id = m.merge_id
      where m.load_id = any(:loads) and m.file_id = any(:files)
        and exists (select 1 from dusky.tally t where t.load_id = m.load_id
          and t.file_id = m.file_id and t.reversed_by is null)
      group by m.merge_name, m.merge_id, r.into_table order by m.merge_id""";

  private final Database database;
  private final Tables tables;
  private final Optional<Consumer<MergedRows>> merged;

  /** Reversals in that database; rows that are merged already are refused. */
  public JdbcReversals(Database database, Tables tables) {
    this(database, tables, Optional.empty());
  }

  private JdbcReversals(Database database, Tables tables, Optional<Consumer<MergedRows>> merged) {
    this.database = database;
    this.tables = tables;
    this.merged = merged;
  }

  @Override
  public Reversed load(LoadStart start, TableName table, long id, boolean mend, String why) {
    String condition =
        mend
            ? "t.load_id = :load"
            : "t.file_id in (select x.file_id from dusky.tally x where x.load_id = :load"
                + " and x.reversed_by is null and x.state in ('posted', 'twin'))";
    return reverse(start, table, condition, Map.of("load", id), why, id);
  }

  @Override
  public Reversed file(LoadStart start, TableName table, String path, String why) {
    return reverse(
        start,
        table,
        "f.feed = :feed and f.path = :path",
        Map.of("feed", start.feed(), "path", path),
        why,
        0);
  }

  @Override
  public Reversals evenMerged(Consumer<MergedRows> taker) {
    return new JdbcReversals(database, tables, Optional.of(taker));
  }

  /** Refuses to undo what is merged, unless the caller accepts that. */
  private void checkMerged(Handle own, List<PostedRows> posted) {
    List<MergedRows> found =
        own.createQuery(MERGED)
            .bindArray("loads", Long.class, posted.stream().map(PostedRows::loadId).toList())
            .bindArray("files", Long.class, posted.stream().map(PostedRows::fileId).toList())
            .map(
                (row, context) ->
                    new MergedRows(
                        row.getString("merge_name"),
                        row.getLong("merge_id"),
                        row.getString("into_table"),
                        row.getLong("landed")))
            .list();
    if (!found.isEmpty() && merged.isEmpty()) {
      throw Failure.warehouse("Nothing was reversed")
          .because(
              found.stream()
                  .map(
                      m ->
                          "%,d of the rows are merged into %s (merge %d)"
                              .formatted(m.rows(), m.into(), m.mergeId()))
                  .collect(Collectors.joining(", ")))
          .hint(
              "Add --even-merged to continue: the target keeps what was merged until the file is"
                  + " loaded and merged again");
    }
    merged.ifPresent(found::forEach);
  }

  private Reversed reverse(
      LoadStart start,
      TableName name,
      String condition,
      Map<String, Object> parameters,
      String why,
      long replacing) {
    TableShape table =
        tables
            .shape(name)
            .orElseThrow(() -> Failure.warehouse("Table " + name + " does not exist"));
    if (!table.hasProvenance()) {
      throw Failure.warehouse("Rows of " + name + " cannot be removed")
          .because("the table has no provenance columns, so its rows cannot be identified")
          .hint("Add dusky_load, dusky_file and dusky_row to the table for files that come");
    }
    Handle own = database.connect();
    try {
      Reversal reversal =
          new Reversal(
              own,
              start,
              (load, file) -> tables.takeOut(JdbcTransaction.of(own), name, load, file));
      List<PostedRows> posted = lock(own, condition, parameters);
      checkMerged(own, posted);
      long rows = posted.isEmpty() ? 0 : reversal.reverse(posted, why);
      long restored = posted.isEmpty() ? 0 : restore(own, start, name, replacing);
      own.getConnection().commit();
      if (restored > 0) {
        tables.former().tidy(name);
      }
      return new Reversed(
          reversal.loadId(),
          posted.stream().map(PostedRows::path).distinct().toList(),
          rows,
          restored);
    } catch (SQLException | JdbiException e) {
      throw database.failed(own, "Removing rows from " + name, Database.sqlException(e));
    } finally {
      database.release(own);
    }
  }

  /** Brings back what a load has replaced, if it has. */
  private long restore(Handle own, LoadStart start, TableName name, long load) throws SQLException {
    Replacements replacements = new Replacements(own);
    Optional<Replacements.Replaced> replaced = replacements.of(load);
    if (replaced.isEmpty()) {
      return 0;
    }
    if (!replaced.get().kept()) {
      throw Failure.warehouse("Load " + load + " cannot be reversed")
          .because(
              "the %,d rows that it replaced in %s are no longer kept: another load has replaced rows since"
                  .formatted(replaced.get().rows(), name))
          .hint("Nothing was changed. Stage the files of the state that you want, and load them");
    }
    long rows = tables.former().bringBack(JdbcTransaction.of(own), name, load);
    if (rows != replaced.get().rows()) {
      throw new SQLException(
          "load %d replaced %,d rows, but %,d are kept; nothing was changed"
              .formatted(load, replaced.get().rows(), rows));
    }
    replacements.restore(load, replaced.get(), start);
    return rows;
  }

  /** Locks the files, so that no other process mends or loads them meanwhile. */
  private List<PostedRows> lock(Handle own, String condition, Map<String, Object> parameters) {
    List<Long> files =
        Reversal.inForce(own, condition, parameters).stream()
            .map(PostedRows::fileId)
            .distinct()
            .toList();
    int held =
        own.createQuery(
                "select file_id from dusky.file where file_id = any(:files) "
                    + database.dialect().claimClause())
            .bindArray("files", Long.class, files)
            .mapTo(Long.class)
            .list()
            .size();
    if (held < files.size()) {
      throw Failure.warehouse("Nothing was reversed")
          .because("another load holds %d of the files".formatted(files.size() - held))
          .hint("Try again when it is done");
    }
    return Reversal.inForce(own, condition, parameters);
  }
}
