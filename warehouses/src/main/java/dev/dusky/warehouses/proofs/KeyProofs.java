package dev.dusky.warehouses.proofs;

import dev.dusky.core.balance.Chains;
import dev.dusky.core.merge.ExistingPolicy.History;
import dev.dusky.core.merge.GoneKeys;
import dev.dusky.core.merge.Merge;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.merging.MergeWork;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

/** Whether a target has each key once, and each history without overlap and gap. */
final class KeyProofs {

  private static final String SHOWN = " order by 1 fetch first 5 rows only";

  private KeyProofs() {}

  /** Keys, with the start of a version, that a target has more than once; some of them. */
  static List<String> twice(MergeWork work, Merge merge, String target) throws SQLException {
    List<String> columns = new ArrayList<>(merge.key());
    merge.history().map(History::from).ifPresent(columns::add);
    return work.texts(
        "select %s || ': ' || cast(count(*) as varchar) || ' rows' from %s t group by %s having count(*) > 1%s"
            .formatted(
                Identifiers.keyText("t", columns), target, Identifiers.list("t", columns), SHOWN));
  }

  /** Overlaps, gaps that no deletion explains, and open versions that are not current. */
  static List<String> chains(MergeWork work, Merge merge, String target) throws SQLException {
    if (merge.history().isEmpty()) {
      return List.of();
    }
    History history = merge.history().get();
    String from = Identifiers.quote(history.from());
    String until = Identifiers.quote(history.until());
    boolean gaps =
        merge.deleted().filter(d -> d.then() == GoneKeys.END).isPresent()
            || merge.missing().filter(m -> m.then() == GoneKeys.END).isPresent();
    String gap =
        gaps
            ? ""
            : " when c.dusky_next is not null and c.%s < c.dusky_next then 'gap behind'"
                .formatted(until);
    String current =
        history
            .current()
            .map(
                name ->
                    " when c.%s is distinct from (c.%s is null) then 'current and end disagree for'"
                        .formatted(Identifiers.quote(name), until))
            .orElse("");
    return work.texts(
        """
        select dusky_what || ' ' || dusky_which from (
          select case
              when c.%s < c.%s then 'ends before it begins:'
              when c.dusky_next is not null and (c.%s is null or c.%s > c.dusky_next) then 'overlap behind'%s%s
            end as dusky_what,
            %s || ' from ' || cast(c.%s as varchar) as dusky_which
          from (
            select t.*, lead(t.%s) over (partition by %s order by t.%s) as dusky_next from %s t
          ) c
        ) w where dusky_what is not null%s"""
            .formatted(
                until,
                from,
                until,
                until,
                gap,
                current,
                Identifiers.keyText("c", merge.key()),
                from,
                from,
                Identifiers.list("t", merge.key()),
                from,
                target,
                SHOWN));
  }

  /** How many keys have how many versions. */
  static Chains lengths(MergeWork work, Merge merge, History history, String target)
      throws SQLException {
    List<Chains.Length> lengths = new ArrayList<>();
    work.read(
        """
        select dusky_versions, count(*) as dusky_keys, sum(dusky_open) as dusky_open_versions
        from (
          select count(*) as dusky_versions,
            sum(case when t.%s is null then 1 else 0 end) as dusky_open
          from %s t group by %s
        ) c group by dusky_versions order by dusky_versions"""
            .formatted(
                Identifiers.quote(history.until()), target, Identifiers.list("t", merge.key())),
        row -> lengths.add(new Chains.Length(count(row, 0), count(row, 1), count(row, 2))));
    return new Chains(lengths);
  }

  private static long count(List<Object> row, int column) {
    return ((Number) row.get(column)).longValue();
  }
}
