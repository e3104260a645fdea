package dev.dusky.warehouses.proofs;

import dev.dusky.core.table.TableName;
import dev.dusky.warehouses.connection.Identifiers;
import java.math.BigDecimal;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.result.ResultIterator;

/** Landing tables in the database of the ledger, counted by SQL. */
final class SqlLandedTables implements LandedTables {

  private static final String TOTAL =
      """
      select sum(cast(r.%s as numeric(60, 20))) from %s r
      where exists (select 1 from dusky.control_total x
          where x.load_id = r.dusky_load and x.file_id = r.dusky_file
            and x.column_name = :column)
        and dusky_load in (select load_id from dusky.load where feed = :feed)""";

  private static final String POSTINGS =
      """
      select dusky_load as load_id, dusky_file as file_id, count(*) as present,
             count(*) - count(distinct dusky_row) as twice
      from %s group by dusky_load, dusky_file order by 1, 2""";

  private static final String STRAYS =
      """
      select count(*) from %s r
      where not exists (
        select 1 from dusky.tally t
        where t.load_id = r.dusky_load and t.file_id = r.dusky_file
          and t.state in ('posted', 'mended') and t.reversed_by is null)""";

  private static final int FETCH = 10_000;

  @Override
  public long rows(Handle handle, TableName table, String feed, boolean provenance) {
    String from = "select count(*) from " + Identifiers.quote(table);
    return provenance
        ? handle
            .createQuery(
                from + " where dusky_load in (select load_id from dusky.load where feed = :feed)")
            .bind("feed", feed)
            .mapTo(Long.class)
            .one()
        : handle.createQuery(from).mapTo(Long.class).one();
  }

  @Override
  public Postings postings(Handle handle, TableName table) {
    ResultIterator<Posting> rows =
        handle
            .createQuery(POSTINGS.formatted(Identifiers.quote(table)))
            .setFetchSize(FETCH)
            .map(
                (row, context) ->
                    new Posting(
                        row.getLong("load_id"),
                        row.getLong("file_id"),
                        row.getLong("present"),
                        row.getLong("twice")))
            .iterator();
    return new Postings() {
      @Override
      public Posting next() {
        return rows.hasNext() ? rows.next() : null;
      }

      @Override
      public void close() {
        rows.close();
      }
    };
  }

  @Override
  public BigDecimal total(Handle handle, TableName table, String feed, String column) {
    return handle
        .createQuery(TOTAL.formatted(Identifiers.quote(column), Identifiers.quote(table)))
        .bind("feed", feed)
        .bind("column", column)
        .mapTo(BigDecimal.class)
        .one();
  }

  @Override
  public long strays(Handle handle, TableName table) {
    return handle.createQuery(STRAYS.formatted(Identifiers.quote(table))).mapTo(Long.class).one();
  }
}
