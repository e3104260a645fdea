package dev.dusky.warehouses.proofs;

import dev.dusky.core.ledger.RejectCounts;
import dev.dusky.core.tally.Tally;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jdbi.v3.core.Handle;

/**
 * What the ledger says of a feed, before it is compared with the table.
 *
 * @param files posted files and twins
 * @param tally the sum of their tallies
 * @param mended rows that came in later for rejects that were mended
 * @param rejects the rejects of posted files
 * @param contradictions what contradicts itself, in words
 */
record LedgerSide(
    long files, Tally tally, long mended, RejectCounts rejects, List<String> contradictions) {

  private static final LedgerSide EMPTY =
      new LedgerSide(0, Tally.NONE, 0, new RejectCounts(0, 0, 0), List.of());

  private static final String SETTLED = "t.state in ('posted', 'twin')";

  private static final String TALLIES =
      """
      select f.feed, count(case when %1$s then 1 end) as files,
             coalesce(sum(case when %1$s then t.read_rows end), 0) as read_rows,
             coalesce(sum(case when %1$s then t.loaded_rows end), 0) as loaded_rows,
             coalesce(sum(case when %1$s then t.duplicate_rows end), 0) as duplicate_rows,
             coalesce(sum(case when %1$s then t.rejected_rows end), 0) as rejected_rows,
             coalesce(sum(case when %1$s then t.filtered_rows end), 0) as filtered_rows,
             coalesce(sum(case when t.state = 'mended' then t.loaded_rows end), 0) as mended_rows
      from dusky.tally t join dusky.file f on f.file_id = t.file_id
      where f.feed = any(:feeds) and t.reversed_by is null
      group by f.feed"""
          .formatted(SETTLED);

  private static final String REJECTS =
      """
      select f.feed, coalesce(sum(open_rejects), 0) as open_rejects,
             coalesce(sum(mended_rejects), 0) as mended_rejects,
             coalesce(sum(waived_rejects), 0) as waived_rejects
      from (
        select r.load_id, r.file_id, case when r.state = 'open' then 1 else 0 end as open_rejects,
               case when r.state = 'mended' then 1 else 0 end as mended_rejects,
               case when r.state = 'waived' then 1 else 0 end as waived_rejects
        from dusky.reject r
        union all
        select p.load_id, p.file_id, 0, case when p.state = 'mended' then p.rejects else 0 end,
               case when p.state = 'waived' then p.rejects else 0 end
        from dusky.purge p
      ) s
      join dusky.tally t on t.load_id = s.load_id and t.file_id = s.file_id
      join dusky.file f on f.file_id = s.file_id
      where f.feed = any(:feeds) and t.state = 'posted' and t.reversed_by is null
      group by f.feed""";

  /** What the ledger says of each of these feeds. */
  static Map<String, LedgerSide> of(Handle handle, Collection<String> feeds) {
    Map<String, RejectCounts> rejects = new HashMap<>();
    handle
        .createQuery(REJECTS)
        .bindArray("feeds", String.class, feeds.toArray())
        .map(
            (row, context) ->
                Map.entry(
                    row.getString("feed"),
                    new RejectCounts(
                        row.getLong("open_rejects"),
                        row.getLong("mended_rejects"),
                        row.getLong("waived_rejects"))))
        .forEach(entry -> rejects.put(entry.getKey(), entry.getValue()));
    Map<String, List<String>> contradictions = LedgerProofs.of(handle, feeds);
    Map<String, LedgerSide> sides = new HashMap<>();
    handle
        .createQuery(TALLIES)
        .bindArray("feeds", String.class, feeds.toArray())
        .map(
            (row, context) ->
                Map.entry(
                    row.getString("feed"),
                    new LedgerSide(
                        row.getLong("files"),
                        new Tally(
                            row.getLong("read_rows"),
                            row.getLong("loaded_rows"),
                            row.getLong("duplicate_rows"),
                            row.getLong("rejected_rows"),
                            row.getLong("filtered_rows"),
                            0),
                        row.getLong("mended_rows"),
                        EMPTY.rejects(),
                        List.of())))
        .forEach(entry -> sides.put(entry.getKey(), entry.getValue()));
    for (String feed : feeds) {
      LedgerSide side = sides.getOrDefault(feed, EMPTY);
      sides.put(
          feed,
          new LedgerSide(
              side.files(),
              side.tally(),
              side.mended(),
              rejects.getOrDefault(feed, side.rejects()),
              new ArrayList<>(contradictions.getOrDefault(feed, List.of()))));
    }
    return sides;
  }
}
