package dev.dusky.warehouses;

import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tally.Tally;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/** Holds the ledger against the tables it speaks of, with set-based queries. */
public final class BookChecks {

  /**
   * The ledger of one feed against its landing table.
   *
   * @param files posted files and twins
   * @param tally the sum of their tallies
   * @param tableRows rows of the table that carry the feed's provenance, or all its rows if it has
   *     no provenance columns
   * @param provenance whether the table has them
   * @param differences files whose row counts disagree
   * @param mended rows that came in later for rejects that were mended
   * @param rejects the rejects of posted files in the ledger, by their state
   * @param totals the sums of columns, in ledger and table
   * @param contradictions what contradicts itself in the ledger, in words
   */
  public record FeedCheck(
      long files,
      Tally tally,
      long tableRows,
      boolean provenance,
      List<Difference> differences,
      long mended,
      RejectCounts rejects,
      List<TotalCheck> totals,
      List<String> contradictions) {}

  /**
   * Rejects of posted files.
   *
   * @param open still to be settled
   * @param mended whose repaired record was loaded, removed ones counted
   * @param waived closed with a reason, removed ones counted
   */
  public record RejectCounts(long open, long mended, long waived) {

    /** All of them. */
    public long recorded() {
      return open + mended + waived;
    }
  }

  /** The sum of a column over the feed's rows, in the ledger and in the table. */
  public record TotalCheck(String column, BigDecimal inLedger, BigDecimal inTable) {}

  /**
   * A file whose rows in the table are not those in its tally.
   *
   * @param inTable rows with its numbers
   * @param twice how many of them have a row number that another one has too
   */
  public record Difference(String path, long loadId, long inLedger, long inTable, long twice) {}

  private final JdbcWarehouse warehouse;

  BookChecks(JdbcWarehouse warehouse) {
    this.warehouse = warehouse;
  }

  /**
   * Checks a feed against the table.
   *
   * @param totals the columns whose sums are kept
   */
  public FeedCheck feed(String feed, TableName table, List<String> totals) {
    Optional<TableShape> shape = warehouse.shape(table);
    boolean provenance = shape.map(TableShape::hasProvenance).orElse(false);
    boolean exists = shape.isPresent();
    return warehouse.transact(
        "Checking the books of feed " + feed,
        c -> {
          List<Difference> differences =
              provenance ? differences(c, feed, table) : new ArrayList<>();
          long rows = exists ? rows(c, feed, table, provenance) : 0;
          return new FeedCheck(
              count(c, "select count(*)" + SETTLED, feed),
              tally(c, feed),
              rows,
              provenance,
              differences,
              count(
                  c,
                  "select coalesce(sum(t.loaded_rows), 0) from dusky.tally t"
                      + " join dusky.file f on f.file_id = t.file_id"
                      + " where f.feed = ? and t.state = 'mended' and t.reversed_by is null",
                  feed),
              rejects(c, feed),
              provenance ? totals(c, feed, table, totals) : List.of(),
              LedgerProofs.of(c, feed));
        });
  }

  private static RejectCounts rejects(Connection c, String feed) throws SQLException {
    String sql =
        """
        select coalesce(sum(s.open_rejects), 0), coalesce(sum(s.mended_rejects), 0),
               coalesce(sum(s.waived_rejects), 0)
        from dusky.reject_state s
        join dusky.tally t on t.load_id = s.load_id and t.file_id = s.file_id
        where s.feed = ? and t.state = 'posted' and t.reversed_by is null""";
    try (PreparedStatement query = c.prepareStatement(sql)) {
      query.setString(1, feed);
      try (ResultSet row = query.executeQuery()) {
        row.next();
        return new RejectCounts(row.getLong(1), row.getLong(2), row.getLong(3));
      }
    }
  }

  private static List<TotalCheck> totals(
      Connection c, String feed, TableName table, List<String> columns) throws SQLException {
    List<TotalCheck> checks = new ArrayList<>();
    for (String column : columns) {
      String sql =
          """
          select (select sum(x.loaded_total) from dusky.control_total x
                  join dusky.file f on f.file_id = x.file_id
                  where f.feed = ? and x.column_name = ?),
                 (select sum(cast(r.%s as numeric(60, 20))) from %s r
                  where exists (select 1 from dusky.control_total x
                    where x.load_id = r.dusky_load and x.file_id = r.dusky_file
                      and x.column_name = ?)
                    and dusky_load in (select load_id from dusky.load where feed = ?))"""
              .formatted(Identifiers.quote(column), Identifiers.quote(table));
      try (PreparedStatement query = c.prepareStatement(sql)) {
        query.setString(1, feed);
        query.setString(2, column);
        query.setString(3, column);
        query.setString(4, feed);
        try (ResultSet row = query.executeQuery()) {
          row.next();
          checks.add(new TotalCheck(column, number(row, 1), number(row, 2)));
        }
      }
    }
    return checks;
  }

  private static BigDecimal number(ResultSet row, int column) throws SQLException {
    BigDecimal number = row.getBigDecimal(column);
    BigDecimal plain = number == null ? BigDecimal.ZERO : number.stripTrailingZeros();
    return plain.setScale(Math.max(0, plain.scale()), RoundingMode.UNNECESSARY);
  }

  /** How many paths of a feed are posted or twins of posted ones, and were to stay in the depot. */
  public long settledPaths(String feed) {
    return warehouse.transact(
        "Counting the settled files of feed " + feed,
        c ->
            count(
                c,
                "select count(distinct path) from dusky.file"
                    + " where feed = ? and state in ('posted', 'twin')"
                    + " and file_id not in (select file_id from dusky.afterwards)",
                feed));
  }

  /** Rows of a table whose provenance the ledger does not know as posted. */
  public long strays(TableName table) {
    return warehouse.transact(
        "Looking for stray rows in " + table,
        c -> {
          String sql =
              """
              select count(*) from %s r
              where not exists (
                select 1 from dusky.tally t
                where t.load_id = r.dusky_load and t.file_id = r.dusky_file
                  and t.state in ('posted', 'mended') and t.reversed_by is null)"""
                  .formatted(Identifiers.quote(table));
          try (PreparedStatement query = c.prepareStatement(sql);
              ResultSet row = query.executeQuery()) {
            row.next();
            return row.getLong(1);
          }
        });
  }

  private static final String SETTLED =
      " from dusky.tally t join dusky.file f on f.file_id = t.file_id"
          + " where f.feed = ? and t.state in ('posted', 'twin') and t.reversed_by is null";

  private static Tally tally(Connection c, String feed) throws SQLException {
    String sql =
        "select coalesce(sum(read_rows), 0), coalesce(sum(loaded_rows), 0),"
            + " coalesce(sum(duplicate_rows), 0), coalesce(sum(rejected_rows), 0),"
            + " coalesce(sum(filtered_rows), 0)"
            + SETTLED;
    try (PreparedStatement query = c.prepareStatement(sql)) {
      query.setString(1, feed);
      try (ResultSet row = query.executeQuery()) {
        row.next();
        return new Tally(
            row.getLong(1), row.getLong(2), row.getLong(3), row.getLong(4), row.getLong(5), 0);
      }
    }
  }

  /** Goes through tallies and counted rows side by side, both in the order of load and file. */
  private static List<Difference> differences(Connection c, String feed, TableName table)
      throws SQLException {
    String booked =
        """
        select t.load_id, t.file_id, f.path, t.loaded_rows
        from dusky.tally t join dusky.file f on f.file_id = t.file_id
        where f.feed = ? and t.state in ('posted', 'mended') and t.reversed_by is null
        order by t.load_id, t.file_id""";
    String present =
        "select dusky_load, dusky_file, count(*), count(*) - count(distinct dusky_row) from "
            + Identifiers.quote(table)
            + " group by dusky_load, dusky_file order by 1, 2";
    List<Difference> result = new ArrayList<>();
    try (PreparedStatement tallies = c.prepareStatement(booked);
        PreparedStatement counts = c.prepareStatement(present)) {
      tallies.setString(1, feed);
      tallies.setFetchSize(10_000);
      counts.setFetchSize(10_000);
      try (ResultSet tally = tallies.executeQuery();
          ResultSet count = counts.executeQuery()) {
        boolean more = count.next();
        while (tally.next()) {
          while (more && compare(count, tally) < 0) {
            more = count.next();
          }
          long there = more && compare(count, tally) == 0 ? count.getLong(3) : 0;
          long twice = there == 0 ? 0 : count.getLong(4);
          if (there != tally.getLong(4) || twice > 0) {
            result.add(
                new Difference(
                    tally.getString(3), tally.getLong(1), tally.getLong(4), there, twice));
          }
        }
      }
    }
    result.sort(Comparator.comparing(Difference::path));
    return result;
  }

  private static int compare(ResultSet a, ResultSet b) throws SQLException {
    int load = Long.compare(a.getLong(1), b.getLong(1));
    return load != 0 ? load : Long.compare(a.getLong(2), b.getLong(2));
  }

  private static long rows(Connection c, String feed, TableName table, boolean provenance)
      throws SQLException {
    if (!provenance) {
      return count(
          c, "select count(*) from " + Identifiers.quote(table) + " where ? is not null", feed);
    }
    return count(
        c,
        "select count(*) from "
            + Identifiers.quote(table)
            + " where dusky_load in (select load_id from dusky.load where feed = ?)",
        feed);
  }

  private static long count(Connection c, String sql, String feed) throws SQLException {
    try (PreparedStatement query = c.prepareStatement(sql)) {
      query.setString(1, feed);
      try (ResultSet row = query.executeQuery()) {
        row.next();
        return row.getLong(1);
      }
    }
  }
}
