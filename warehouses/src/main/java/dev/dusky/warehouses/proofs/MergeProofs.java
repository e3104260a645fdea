package dev.dusky.warehouses.proofs;

import dev.dusky.core.balance.Chains;
import dev.dusky.core.balance.MergeProof;
import dev.dusky.core.merge.Lookup;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.merge.MergeTally;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.ledger.Seal;
import dev.dusky.warehouses.merging.MergeTables;
import dev.dusky.warehouses.merging.MergeWork;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jdbi.v3.core.Handle;

/** Compares the ledger of merges with landing tables and targets. */
final class MergeProofs {

  private static final String WAITING =
      """
      from dusky.tally t join dusky.load l on l.load_id = t.load_id
      where l.into_table = :landing and t.state in ('posted', 'mended') and t.reversed_by is null
        and t.loaded_rows > 0 and not exists (select 1 from dusky.merge_file m
          where m.merge_name = :merge and m.load_id = t.load_id and m.file_id = t.file_id)""";

  private static final String REVERSED =
      """
      select coalesce(sum(m.landed_rows), 0) from dusky.merge_file m
      where m.merge_name = :merge and exists (select 1 from dusky.tally t
        where t.load_id = m.load_id and t.file_id = m.file_id
          and t.reversed_by is not null)""";

  private static final String MERGED =
      """
      select coalesce(sum(coalesce(rows_before, 0) + added_rows - removed_rows), 0)
      from dusky.merge_run where state = 'done' and into_table = :into""";

  private static final String PLACEHOLDERS =
      """
      select coalesce(sum(p.added_rows), 0) from dusky.merge_placeholder p
      where p.into_table = :into and p.merge_id > (select coalesce(min(r.merge_id), 0)
        from dusky.merge_run r where r.state = 'done' and r.into_table = :into)""";

  private static final String TALLY =
      """
      select coalesce(sum(landed_rows), 0) as landed, coalesce(sum(inserted_rows), 0) as inserted,
             coalesce(sum(updated_rows), 0) as updated,
             coalesce(sum(unchanged_rows), 0) as unchanged,
             coalesce(sum(superseded_rows), 0) as superseded,
             coalesce(sum(deleted_rows), 0) as deleted, coalesce(sum(rejected_rows), 0) as rejected,
             coalesce(sum(missing_rows), 0) as missing
      from dusky.merge_run where state = 'done' and merge_name = :merge""";

  private static final String TAKEN =
      """
      select 'merge ' || cast(r.merge_id as varchar) || ' took '
          || cast(r.landed_rows as varchar) || ' rows, its files in dusky.merge_file had '
          || cast(coalesce(sum(m.landed_rows), 0) as varchar)
      from dusky.merge_run r left join dusky.merge_file m on m.merge_id = r.merge_id
      where r.merge_name = :merge and r.state = 'done' and not r.retry
      group by r.merge_id, r.landed_rows
      having r.landed_rows <> coalesce(sum(m.landed_rows), 0)
      order by 1 fetch first 5 rows only""";

  private final Database database;
  private final MergeTables tables;

  MergeProofs(Database database, MergeTables tables) {
    this.database = database;
    this.tables = tables;
  }

  /** Proves a merge; empty if its target does not exist. */
  Optional<MergeProof> prove(Merge merge) {
    if (tables.shape(merge.into()).isEmpty()) {
      return Optional.empty();
    }
    return database.look(
        "Proving merge " + merge.name(),
        h -> {
          try (MergeWork work = tables.open(h, merge)) {
            return Optional.of(new OneMerge(h, work, merge).prove());
          }
        });
  }

  /** The chains of a history; empty if there is none, or no target. */
  Optional<Chains> chains(Merge merge) {
    if (merge.history().isEmpty() || tables.shape(merge.into()).isEmpty()) {
      return Optional.empty();
    }
    return database.look(
        "Counting the versions of merge " + merge.name(),
        h -> {
          try (MergeWork work = tables.open(h, merge)) {
            return Optional.of(
                KeyProofs.lengths(
                    work, merge, merge.history().get(), Identifiers.quote(merge.into())));
          }
        });
  }

  /** The proof of one merge. */
  private static final class OneMerge {

    private final Handle handle;
    private final MergeWork work;
    private final Merge merge;
    private final String landing;
    private final String target;

    OneMerge(Handle handle, MergeWork work, Merge merge) {
      this.handle = handle;
      this.work = work;
      this.merge = merge;
      this.landing =
          merge.source() instanceof MergeSource.Landing source ? source.table().toString() : "";
      this.target = Identifiers.quote(merge.into());
    }

    MergeProof prove() throws SQLException {
      return new MergeProof(
          tally(),
          number("select count(*) from dusky.merge_reject where merge_name = :merge"),
          number(
              "select count(*) from dusky.merge_reject"
                  + " where state = 'open' and merge_name = :merge"),
          number("select count(*) " + WAITING),
          number("select coalesce(sum(t.loaded_rows), 0) " + WAITING),
          number(REVERSED),
          number(MERGED) + number(PLACEHOLDERS),
          work.number("select count(*) from " + target),
          KeyProofs.twice(work, merge, target),
          KeyProofs.chains(work, merge, target),
          MergeSums.of(handle, work, merge),
          contradictions());
    }

    private MergeTally tally() {
      return handle
          .createQuery(TALLY)
          .bind("merge", merge.name())
          .map(
              (row, context) ->
                  new MergeTally(
                      row.getLong("landed"),
                      row.getLong("inserted"),
                      row.getLong("updated"),
                      row.getLong("unchanged"),
                      row.getLong("superseded"),
                      row.getLong("deleted"),
                      row.getLong("rejected"),
                      row.getLong("missing")))
          .one();
    }

    private List<String> contradictions() throws SQLException {
      List<String> found =
          new ArrayList<>(
              LedgerProofs.unsealed(
                  handle,
                  "select %s, seal from dusky.merge_run where seal is not null and merge_name = :name"
                      .formatted(Seal.MERGE),
                  merge.name(),
                  "the entry of merge %s (%s)"));
      if (!landing.isEmpty()) {
        found.addAll(
            handle.createQuery(TAKEN).bind("merge", merge.name()).mapTo(String.class).list());
      }
      for (Lookup lookup : merge.lookups()) {
        long dangling = dangling(lookup);
        if (dangling > 0) {
          found.add(
              "%,d rows have a %s that does not exist as %s of %s"
                  .formatted(dangling, lookup.column(), lookup.take(), lookup.table()));
        }
      }
      return found;
    }

    /** The number of rows whose surrogate key no row of the dimension has. */
    private long dangling(Lookup lookup) throws SQLException {
      String column = "t." + Identifiers.quote(lookup.column());
      Optional<String> allowed =
          lookup.unknown() instanceof Lookup.Unknown.Default other
              ? Optional.of(other.value())
              : Optional.empty();
      return work.number(
          """
          select count(*) from %s t where %s is not null%s
            and not exists (select 1 from %s d where d.%s = %s)"""
              .formatted(
                  target,
                  column,
                  allowed
                      .map(
                          a ->
                              " and cast(%s as varchar) <> %s"
                                  .formatted(column, Identifiers.text(a)))
                      .orElse(""),
                  Identifiers.quote(lookup.table()),
                  Identifiers.quote(lookup.take()),
                  column));
    }

    private long number(String sql) {
      return handle
          .createQuery(sql)
          .bind("merge", merge.name())
          .bind("landing", landing)
          .bind("into", merge.into().toString())
          .mapTo(Long.class)
          .one();
    }
  }
}
