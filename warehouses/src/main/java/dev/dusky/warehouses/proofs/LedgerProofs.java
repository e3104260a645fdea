package dev.dusky.warehouses.proofs;

import dev.dusky.warehouses.ledger.Seal;
import java.util.ArrayList;
import java.util.List;
import org.jdbi.v3.core.Handle;

/**
 * Holds the ledger's entries of one feed against each other: what one table says, others must bear
 * out. Each contradiction is a sentence for people.
 */
final class LedgerProofs {

  /** More contradictions of one kind are not listed. */
  private static final int MOST = 20;

  private static final String STATES =
      """
      select f.path || ' is ' || f.state || ' in dusky.file, and '
          || case when count(t.file_id) = 0 then 'no load has posted it'
             else 'posted in load ' || cast(max(t.load_id) as varchar) end
      from dusky.file f
      left join dusky.tally t on t.file_id = f.file_id and t.reversed_by is null
        and t.state in ('posted', 'twin')
      where f.feed = :name
      group by f.file_id, f.path, f.state
      having count(t.file_id) <> case when f.state in ('posted', 'twin') then 1 else 0 end
        or max(t.state) <> f.state
      order by 1""";

  private static final String REPEATS =
      """
      select f.path || ' in load ' || cast(t.load_id as varchar) || ': the tally has '
          || cast(t.duplicate_rows as varchar) || ' duplicates, dusky.repeat has '
          || cast(coalesce(sum(r.row_count), 0) as varchar)
      from dusky.tally t
      join dusky.file f on f.file_id = t.file_id
      left join dusky.repeat r on r.load_id = t.load_id and r.file_id = t.file_id
      where f.feed = :name and t.state = 'posted' and t.reversed_by is null
      group by t.load_id, t.file_id, f.path, t.duplicate_rows
      having t.duplicate_rows <> coalesce(sum(r.row_count), 0)
      order by 1""";

  private static final String PROBLEMS =
      """
      select 'reject ' || cast(r.reject_id as varchar) || ' of ' || f.path || ' has '
          || cast(count(p.problem) as varchar) || ' of its '
          || cast(coalesce(r.problem_count, 1) as varchar) || ' problems'
      from dusky.reject r
      join dusky.file f on f.file_id = r.file_id
      left join dusky.reject_problem p on p.reject_id = r.reject_id
      where f.feed = :name
      group by r.reject_id, f.path, r.problem_count
      having count(p.problem) = 0 or count(p.problem) <> coalesce(r.problem_count, count(p.problem))
      order by 1""";

  private static final String MENDED =
      """
      select 'reject ' || cast(r.reject_id as varchar) || ' of ' || f.path
          || ' is mended, but no load has mended it'
      from dusky.reject r
      join dusky.file f on f.file_id = r.file_id
      where f.feed = :name and r.state = 'mended'
        and not exists (select 1 from dusky.tally t
          where t.load_id = r.settled_load and t.file_id = r.file_id and t.state = 'mended')
      order by 1""";

  private LedgerProofs() {}

  /** The contradictions within the ledger of a feed. */
  static List<String> of(Handle handle, String feed) {
    List<String> found = new ArrayList<>();
    for (String sql : List.of(STATES, REPEATS, PROBLEMS, MENDED)) {
      found.addAll(
          handle.createQuery(sql).bind("name", feed).setMaxRows(MOST).mapTo(String.class).list());
    }
    String tallies =
        "select t.%s, t.seal from dusky.tally t join dusky.file f on f.file_id = t.file_id"
                .formatted(Seal.TALLY.replace(", ", ", t."))
            + " where t.seal is not null and f.feed = :name";
    found.addAll(unsealed(handle, tallies, feed, "the tally of load %s and file number %s"));
    return found;
  }

  /** Entries whose checksum no longer fits; the first columns name them. */
  static List<String> unsealed(Handle handle, String sql, String name, String form) {
    return handle
        .createQuery(sql)
        .bind("name", name)
        .setFetchSize(10_000)
        .reduceResultSet(
            new ArrayList<>(),
            (found, row, context) -> {
              int seal = row.getMetaData().getColumnCount();
              if (!Seal.of(row).equals(row.getString(seal))) {
                found.add(
                    form.formatted(row.getString(1), row.getString(2))
                        + " was changed since it was written");
              }
              return found;
            });
  }
}
