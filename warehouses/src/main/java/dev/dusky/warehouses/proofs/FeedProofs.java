package dev.dusky.warehouses.proofs;

import dev.dusky.core.balance.Difference;
import dev.dusky.core.balance.FeedProof;
import dev.dusky.core.balance.Landing;
import dev.dusky.core.balance.TotalCheck;
import dev.dusky.core.concurrent.Together;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.Tables;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.Identifiers;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.result.ResultIterator;

/** Compares the ledger of feeds with their landing tables, with set-based queries. */
final class FeedProofs {

  private static final String TOTALS =
      """
      select (select sum(x.loaded_total) from dusky.control_total x
              join dusky.file f on f.file_id = x.file_id
              where f.feed = :feed and x.column_name = :column) as in_ledger,
             (select sum(cast(r.%s as numeric(60, 20))) from %s r
              where exists (select 1 from dusky.control_total x
                where x.load_id = r.dusky_load and x.file_id = r.dusky_file
                  and x.column_name = :column)
                and dusky_load in (select load_id from dusky.load where feed = :feed)) as in_table""";

  private static final String IN_LEDGER =
      """
      select t.load_id, t.file_id, f.path, t.loaded_rows
      from dusky.tally t join dusky.file f on f.file_id = t.file_id
      where f.feed = :feed and t.state in ('posted', 'mended') and t.reversed_by is null
      order by t.load_id, t.file_id""";

  private static final String IN_TABLE =
      """
      select dusky_load as load_id, dusky_file as file_id, count(*) as present,
             count(*) - count(distinct dusky_row) as twice
      from %s group by dusky_load, dusky_file order by 1, 2""";

  private static final int FETCH = 10_000;
  private static final int AT_ONCE = 4;

  private final Database database;
  private final Tables tables;

  FeedProofs(Database database, Tables tables) {
    this.database = database;
    this.tables = tables;
  }

  /** Compares the ledger of feeds with their tables. */
  List<FeedProof> feeds(List<Landing> landings) {
    Map<String, LedgerSide> sides =
        database.look(
            "Checking the ledger",
            h -> LedgerSide.of(h, landings.stream().map(Landing::feed).toList()));
    return Together.map(landings, AT_ONCE, landing -> feed(landing, sides.get(landing.feed())));
  }

  private FeedProof feed(Landing landing, LedgerSide side) {
    String feed = landing.feed();
    TableName table = landing.table();
    Optional<TableShape> shape = tables.shape(table);
    boolean provenance = shape.map(TableShape::hasProvenance).orElse(false);
    return database.look(
        "Checking the table of feed " + feed,
        h ->
            new FeedProof(
                side.files(),
                side.tally(),
                shape.isPresent() ? rows(h, feed, table, provenance) : 0,
                provenance,
                provenance ? differences(h, feed, table) : new ArrayList<>(),
                side.mended(),
                side.rejects(),
                provenance ? totals(h, feed, table, landing.totals()) : List.of(),
                side.contradictions()));
  }

  private static List<TotalCheck> totals(
      Handle handle, String feed, TableName table, List<String> columns) {
    List<TotalCheck> checks = new ArrayList<>();
    for (String column : columns) {
      checks.add(
          handle
              .createQuery(TOTALS.formatted(Identifiers.quote(column), Identifiers.quote(table)))
              .bind("feed", feed)
              .bind("column", column)
              .map(
                  (row, context) ->
                      new TotalCheck(
                          column,
                          plain(row.getBigDecimal("in_ledger")),
                          plain(row.getBigDecimal("in_table"))))
              .one());
    }
    return checks;
  }

  /** A sum without trailing zeros; nothing is zero. */
  static BigDecimal plain(BigDecimal number) {
    BigDecimal plain = number == null ? BigDecimal.ZERO : number.stripTrailingZeros();
    return plain.setScale(Math.max(0, plain.scale()), RoundingMode.UNNECESSARY);
  }

  /** The number of paths that are posted or twins, and were to stay in the depot. */
  long settledPaths(String feed) {
    return database.look(
        "Counting the settled files of feed " + feed,
        h ->
            count(
                h,
                "select count(distinct path) from dusky.file"
                    + " where feed = :feed and state in ('posted', 'twin')"
                    + " and file_id not in (select file_id from dusky.afterwards)",
                feed));
  }

  /** The number of rows whose provenance the ledger does not know as posted. */
  long strays(TableName table) {
    String sql =
        """
        select count(*) from %s r
        where not exists (
          select 1 from dusky.tally t
          where t.load_id = r.dusky_load and t.file_id = r.dusky_file
            and t.state in ('posted', 'mended') and t.reversed_by is null)"""
            .formatted(Identifiers.quote(table));
    return database.look(
        "Looking for stray rows in " + table, h -> h.createQuery(sql).mapTo(Long.class).one());
  }

  /** Rows of a load and a file, by one side of the comparison. */
  private record Counted(long load, long file, String path, long rows, long twice) {

    int compareKeys(Counted other) {
      int byLoad = Long.compare(load, other.load);
      return byLoad != 0 ? byLoad : Long.compare(file, other.file);
    }
  }

  /** Reads tallies and counted rows in parallel, both in the order of load and file. */
  private static List<Difference> differences(Handle handle, String feed, TableName table) {
    List<Difference> result = new ArrayList<>();
    try (ResultIterator<Counted> tallies =
            handle
                .createQuery(IN_LEDGER)
                .bind("feed", feed)
                .setFetchSize(FETCH)
                .map(
                    (row, context) ->
                        new Counted(
                            row.getLong("load_id"),
                            row.getLong("file_id"),
                            row.getString("path"),
                            row.getLong("loaded_rows"),
                            0))
                .iterator();
        ResultIterator<Counted> present =
            handle
                .createQuery(IN_TABLE.formatted(Identifiers.quote(table)))
                .setFetchSize(FETCH)
                .map(
                    (row, context) ->
                        new Counted(
                            row.getLong("load_id"),
                            row.getLong("file_id"),
                            "",
                            row.getLong("present"),
                            row.getLong("twice")))
                .iterator()) {
      Counted there = present.hasNext() ? present.next() : null;
      while (tallies.hasNext()) {
        Counted tally = tallies.next();
        while (there != null && there.compareKeys(tally) < 0) {
          there = present.hasNext() ? present.next() : null;
        }
        boolean found = there != null && there.compareKeys(tally) == 0;
        long rows = found ? there.rows() : 0;
        long twice = found ? there.twice() : 0;
        if (rows != tally.rows() || twice > 0) {
          result.add(new Difference(tally.path(), tally.load(), tally.rows(), rows, twice));
        }
      }
    }
    result.sort(Comparator.comparing(Difference::path));
    return result;
  }

  private static long rows(Handle handle, String feed, TableName table, boolean provenance) {
    String from = "select count(*) from " + Identifiers.quote(table);
    return count(
        handle,
        provenance
            ? from + " where dusky_load in (select load_id from dusky.load where feed = :feed)"
            : from,
        feed);
  }

  private static long count(Handle handle, String sql, String feed) {
    return handle.createQuery(sql).bind("feed", feed).mapTo(Long.class).one();
  }
}
