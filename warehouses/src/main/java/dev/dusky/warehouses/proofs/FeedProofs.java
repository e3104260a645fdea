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

  /** A refused file has its sums too, so that they can be compared with what its sender states. */
  private static final String TOTAL =
      """
      select sum(x.loaded_total) from dusky.control_total x
      join dusky.file f on f.file_id = x.file_id
      join dusky.tally t on t.load_id = x.load_id and t.file_id = x.file_id
      where f.feed = :feed and x.column_name = :column and t.state <> 'refused'""";

  private static final String IN_LEDGER =
      """
      select t.load_id, t.file_id, f.path, t.loaded_rows
      from dusky.tally t join dusky.file f on f.file_id = t.file_id
      where f.feed = :feed and t.state in ('posted', 'mended') and t.reversed_by is null
      order by t.load_id, t.file_id""";

  private static final int FETCH = 10_000;
  private static final int AT_ONCE = 4;

  private final Database database;
  private final Tables tables;
  private final LandedTables landed;

  FeedProofs(Database database, Tables tables, LandedTables landed) {
    this.database = database;
    this.tables = tables;
    this.landed = landed;
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
                shape.isPresent() ? landed.rows(h, table, feed, provenance) : 0,
                provenance,
                provenance ? differences(h, feed, table) : new ArrayList<>(),
                side.mended(),
                side.rejects(),
                provenance ? totals(h, feed, table, landing.totals()) : List.of(),
                side.contradictions()));
  }

  private List<TotalCheck> totals(
      Handle handle, String feed, TableName table, List<String> columns) {
    List<TotalCheck> checks = new ArrayList<>();
    for (String column : columns) {
      BigDecimal inLedger =
          handle
              .createQuery(TOTAL)
              .bind("feed", feed)
              .bind("column", column)
              .mapTo(BigDecimal.class)
              .one();
      BigDecimal inTable = landed.total(handle, table, feed, column);
      checks.add(new TotalCheck(column, plain(inLedger), plain(inTable)));
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
    return database.look("Looking for stray rows in " + table, h -> landed.strays(h, table));
  }

  /** A posting by the ledger. */
  private record Entered(long load, long file, String path, long rows) {

    /** Whether a posting of a table comes before it, is the same, or comes behind it. */
    int compareTo(LandedTables.Posting other) {
      int byLoad = Long.compare(load, other.load());
      return byLoad != 0 ? byLoad : Long.compare(file, other.file());
    }
  }

  /** Reads tallies and counted rows in parallel, both in the order of load and file. */
  private List<Difference> differences(Handle handle, String feed, TableName table) {
    List<Difference> result = new ArrayList<>();
    try (ResultIterator<Entered> tallies =
            handle
                .createQuery(IN_LEDGER)
                .bind("feed", feed)
                .setFetchSize(FETCH)
                .map(
                    (row, context) ->
                        new Entered(
                            row.getLong("load_id"),
                            row.getLong("file_id"),
                            row.getString("path"),
                            row.getLong("loaded_rows")))
                .iterator();
        LandedTables.Postings present = landed.postings(handle, table)) {
      LandedTables.Posting there = present.next();
      while (tallies.hasNext()) {
        Entered tally = tallies.next();
        while (there != null && tally.compareTo(there) > 0) {
          there = present.next();
        }
        boolean found = there != null && tally.compareTo(there) == 0;
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

  private static long count(Handle handle, String sql, String feed) {
    return handle.createQuery(sql).bind("feed", feed).mapTo(Long.class).one();
  }
}
