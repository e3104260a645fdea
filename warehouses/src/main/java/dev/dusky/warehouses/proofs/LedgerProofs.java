package dev.dusky.warehouses.proofs;

import dev.dusky.warehouses.ledger.Seal;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jdbi.v3.core.Handle;

/**
 * Holds the ledger's entries of each feed against each other: what one table says, others must bear
 * out. Each contradiction is a sentence for people.
 */
final class LedgerProofs {

  /** More contradictions of one kind are not listed. */
  private static final int MOST = 20;

  private static final String STATES =
      """
      select f.feed, f.path || ' is ' || f.state || ' in dusky.file, and '
          || case when count(t.file_id) = 0 then 'no load has posted it'
             else 'posted in load ' || cast(max(t.load_id) as varchar) end as said
      from dusky.file f
      left join dusky.tally t on t.file_id = f.file_id and t.reversed_by is null
        and t.state in ('posted', 'twin')
      where f.feed = any(:feeds)
      group by f.feed, f.file_id, f.path, f.state
      having count(t.file_id) <> case when f.state in ('posted', 'twin') then 1 else 0 end
        or max(t.state) <> f.state""";

  private static final String REPEATS =
      """
      select f.feed, f.path || ' in load ' || cast(t.load_id as varchar) || ': the tally has '
          || cast(t.duplicate_rows as varchar) || ' duplicates, dusky.repeat has '
          || cast(coalesce(sum(r.row_count), 0) as varchar) as said
      from dusky.tally t
      join dusky.file f on f.file_id = t.file_id
      left join dusky.repeat r on r.load_id = t.load_id and r.file_id = t.file_id
      where f.feed = any(:feeds) and t.state = 'posted' and t.reversed_by is null
      group by f.feed, t.load_id, t.file_id, f.path, t.duplicate_rows
      having t.duplicate_rows <> coalesce(sum(r.row_count), 0)""";

  private static final String PROBLEMS =
      """
      select f.feed, 'reject ' || cast(r.reject_id as varchar) || ' of ' || f.path || ' has '
          || cast(count(p.problem) as varchar) || ' of its '
          || cast(coalesce(r.problem_count, 1) as varchar) || ' problems' as said
      from dusky.reject r
      join dusky.file f on f.file_id = r.file_id
      left join dusky.reject_problem p on p.reject_id = r.reject_id
      where f.feed = any(:feeds)
      group by f.feed, r.reject_id, f.path, r.problem_count
      having count(p.problem) = 0 or count(p.problem) <> coalesce(r.problem_count, count(p.problem))""";

  private static final String MENDED =
      """
      select f.feed, 'reject ' || cast(r.reject_id as varchar) || ' of ' || f.path
          || ' is mended, but no load has mended it' as said
      from dusky.reject r
      join dusky.file f on f.file_id = r.file_id
      where f.feed = any(:feeds) and r.state = 'mended'
        and not exists (select 1 from dusky.tally t
          where t.load_id = r.settled_load and t.file_id = r.file_id and t.state = 'mended')""";

  /** The first of each feed. */
  private static final String FEW =
      """
      select feed, said from (
        select feed, said, row_number() over (partition by feed order by said) as place
        from (
      %s
        ) every_one
      ) numbered where place <= %d order by feed, said""";

  private LedgerProofs() {}

  /** The contradictions within the ledger, by feed; a feed without any is left out. */
  static Map<String, List<String>> of(Handle handle, Collection<String> feeds) {
    Map<String, List<String>> found = new HashMap<>();
    for (String sql : List.of(STATES, REPEATS, PROBLEMS, MENDED)) {
      handle
          .createQuery(FEW.formatted(sql, MOST))
          .bindArray("feeds", String.class, feeds.toArray())
          .map((row, context) -> Map.entry(row.getString("feed"), row.getString("said")))
          .forEach(said -> add(found, said.getKey(), said.getValue()));
    }
    String tallies =
        "select t.%s, t.seal, f.feed from dusky.tally t join dusky.file f on f.file_id = t.file_id"
                .formatted(Seal.TALLY.replace(", ", ", t."))
            + " where t.seal is not null and f.feed = any(:feeds)";
    handle
        .createQuery(tallies)
        .bindArray("feeds", String.class, feeds.toArray())
        .setFetchSize(10_000)
        .reduceResultSet(
            found,
            (all, row, context) -> {
              int feed = row.getMetaData().getColumnCount();
              if (!Seal.of(row, feed - 2).equals(row.getString(feed - 1))) {
                String form =
                    "the tally of load %s and file number %s was changed since it was written";
                add(all, row.getString(feed), form.formatted(row.getString(1), row.getString(2)));
              }
              return all;
            });
    return found;
  }

  private static void add(Map<String, List<String>> found, String feed, String said) {
    found.computeIfAbsent(feed, f -> new ArrayList<>()).add(said);
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
