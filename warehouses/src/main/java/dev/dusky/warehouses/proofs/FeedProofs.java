package dev.dusky.warehouses.proofs;

import dev.dusky.core.balance.Difference;
import dev.dusky.core.balance.FeedProof;
import dev.dusky.core.balance.TotalCheck;
import dev.dusky.core.ledger.RejectCounts;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.tally.Tally;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.Identifiers;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.result.ResultIterator;

/** Compares the ledger of feeds with their landing tables, with set-based queries. */
final class FeedProofs {

  private static final String SETTLED =
      " from dusky.tally t join dusky.file f on f.file_id = t.file_id"
          + " where f.feed = :feed and t.state in ('posted', 'twin') and t.reversed_by is null";

  private static final String REJECTS =
      """
      select coalesce(sum(s.open_rejects), 0) as open_rejects,
             coalesce(sum(s.mended_rejects), 0) as mended_rejects,
             coalesce(sum(s.waived_rejects), 0) as waived_rejects
      from dusky.reject_state s
      join dusky.tally t on t.load_id = s.load_id and t.file_id = s.file_id
      where s.feed = :feed and t.state = 'posted' and t.reversed_by is null""";

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

  private final Database database;
  private final Tables tables;

  FeedProofs(Database database, Tables tables) {
    this.database = database;
    this.tables = tables;
  }

  /** Compares the ledger of a feed with the table. */
  FeedProof feed(String feed, TableName table, List<String> totals) {
    Optional<TableShape> shape = tables.shape(table);
    boolean provenance = shape.map(TableShape::hasProvenance).orElse(false);
    return database.transact(
        "Checking the ledger of feed " + feed,
        h -> {
          List<Difference> differences =
              provenance ? differences(h, feed, table) : new ArrayList<>();
          return new FeedProof(
              count(h, "select count(*)" + SETTLED, feed),
              tally(h, feed),
              shape.isPresent() ? rows(h, feed, table, provenance) : 0,
              provenance,
              differences,
              count(
                  h,
                  "select coalesce(sum(t.loaded_rows), 0) from dusky.tally t"
                      + " join dusky.file f on f.file_id = t.file_id"
                      + " where f.feed = :feed and t.state = 'mended' and t.reversed_by is null",
                  feed),
              rejects(h, feed),
              provenance ? totals(h, feed, table, totals) : List.of(),
              LedgerProofs.of(h, feed));
        });
  }

  private static RejectCounts rejects(Handle handle, String feed) {
    return handle
        .createQuery(REJECTS)
        .bind("feed", feed)
        .map(
            (row, context) ->
                new RejectCounts(
                    row.getLong("open_rejects"),
                    row.getLong("mended_rejects"),
                    row.getLong("waived_rejects")))
        .one();
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
    return database.transact(
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
    return database.transact(
        "Looking for stray rows in " + table, h -> h.createQuery(sql).mapTo(Long.class).one());
  }

  private static Tally tally(Handle handle, String feed) {
    String sql =
        "select coalesce(sum(read_rows), 0) as read_rows,"
            + " coalesce(sum(loaded_rows), 0) as loaded_rows,"
            + " coalesce(sum(duplicate_rows), 0) as duplicate_rows,"
            + " coalesce(sum(rejected_rows), 0) as rejected_rows,"
            + " coalesce(sum(filtered_rows), 0) as filtered_rows"
            + SETTLED;
    return handle
        .createQuery(sql)
        .bind("feed", feed)
        .map(
            (row, context) ->
                new Tally(
                    row.getLong("read_rows"),
                    row.getLong("loaded_rows"),
                    row.getLong("duplicate_rows"),
                    row.getLong("rejected_rows"),
                    row.getLong("filtered_rows"),
                    0))
        .one();
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
