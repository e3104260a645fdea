package dev.dusky.warehouses.proofs;

import dev.dusky.core.balance.MergeSum;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.merging.MergeWork;
import java.math.BigDecimal;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import org.jdbi.v3.core.Handle;

/** The sums of columns on their way from files to a target. */
final class MergeSums {

  private static final String SUM =
      """
      select coalesce(f.loaded + f.others + f.duplicate, 0) as files,
        coalesce(f.duplicate, 0) as duplicate, coalesce(f.others, 0) + coalesce(m.rejected, 0) as rejected,
        coalesce(m.superseded, 0) as superseded, coalesce(m.replaced, 0) as replaced,
        coalesce(f.loaded, 0) - coalesce(m.landed, 0) + v.reversed as waiting,
        coalesce(m.earlier, 0) as earlier,
        coalesce(m.earlier + m.written - m.replaced, 0) as in_ledger, v.reversed
      from (
        select sum(x.loaded_total) as loaded, sum(x.other_total) as others,
          sum(x.duplicate_total) as duplicate
        from dusky.control_total x
        join dusky.tally t on t.load_id = x.load_id and t.file_id = x.file_id
        join dusky.load l on l.load_id = x.load_id
        where l.into_table = :landing and x.column_name = :column and t.reversed_by is null
          and t.state in ('posted', 'twin', 'mended')
      ) f
      cross join (
        select sum(case when r.retry then 0 else x.landed_total end) as landed,
          sum(x.rejected_total - case when r.retry then x.landed_total else 0 end) as rejected,
          sum(x.superseded_total + x.unchanged_total + x.deleted_total) as superseded,
          sum(x.replaced_total + x.removed_total) as replaced,
          sum(coalesce(x.total_before, 0)) as earlier,
          sum(x.inserted_total + x.updated_total) as written
        from dusky.merge_total x join dusky.merge_run r on r.merge_id = x.merge_id
        where r.merge_name = :merge and x.column_name = :column
      ) m
      cross join (
        select coalesce(sum(x.loaded_total), 0) as reversed
        from dusky.control_total x
        join dusky.tally t on t.load_id = x.load_id and t.file_id = x.file_id
        join dusky.merge_file g on g.load_id = x.load_id and g.file_id = x.file_id
        where g.merge_name = :merge and x.column_name = :column and t.reversed_by is not null
          and t.state in ('posted', 'mended')
      ) v""";

  private MergeSums() {}

  /** The sums of the columns that a merge follows. */
  static List<MergeSum> of(Handle handle, MergeWork work, Merge merge) throws SQLException {
    List<MergeSum> sums = new ArrayList<>();
    for (String column : merge.totals()) {
      sums.add(of(handle, merge, column, inTarget(work, merge, column)));
    }
    return sums;
  }

  private static BigDecimal inTarget(MergeWork work, Merge merge, String column)
      throws SQLException {
    List<Object> sum = new ArrayList<>();
    work.read(
        "select coalesce(sum(t.%s), 0) from %s t"
            .formatted(Identifiers.quote(column), Identifiers.quote(merge.into())),
        sum::addAll);
    return new BigDecimal(sum.get(0).toString());
  }

  private static MergeSum of(Handle handle, Merge merge, String column, BigDecimal inTarget) {
    String landing =
        merge.source() instanceof MergeSource.Landing source ? source.table().toString() : "";
    return handle
        .createQuery(SUM)
        .bind("landing", landing)
        .bind("column", column)
        .bind("merge", merge.name())
        .map(
            (row, context) ->
                new MergeSum(
                    column,
                    FeedProofs.plain(row.getBigDecimal("files")),
                    FeedProofs.plain(row.getBigDecimal("duplicate")),
                    FeedProofs.plain(row.getBigDecimal("rejected")),
                    FeedProofs.plain(row.getBigDecimal("superseded")),
                    FeedProofs.plain(row.getBigDecimal("replaced")),
                    FeedProofs.plain(row.getBigDecimal("waiting")),
                    FeedProofs.plain(row.getBigDecimal("earlier")),
                    FeedProofs.plain(row.getBigDecimal("in_ledger")),
                    FeedProofs.plain(inTarget),
                    FeedProofs.plain(row.getBigDecimal("reversed"))))
        .one();
  }
}
