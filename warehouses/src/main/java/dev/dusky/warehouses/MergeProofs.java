package dev.dusky.warehouses;

import dev.dusky.core.merge.ExistingPolicy.History;
import dev.dusky.core.merge.GoneKeys;
import dev.dusky.core.merge.Lookup;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.merge.MergeTally;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/** Holds what the ledger says of merges against landing tables and targets. */
public final class MergeProofs {

  private static final String SHOWN = " order by 1 fetch first 5 rows only";

  /**
   * A merge against its tables.
   *
   * @param tally the sum of its runs
   * @param rejectsRecorded its rejects in the ledger
   * @param rejectsOpen those of them that were not taken again
   * @param waitingFiles files that landed and are not merged
   * @param waitingRows their rows
   * @param reversedRows merged rows whose file was taken out of the landing table since
   * @param inLedger rows that the target should have, by the ledger
   * @param inTarget rows that it has
   * @param twice keys that it has more than once, some of them
   * @param chains what is wrong with its histories, some of it
   * @param sums the sums from file to target
   * @param contradictions what else does not fit together, in words
   */
  public record Proof(
      MergeTally tally,
      long rejectsRecorded,
      long rejectsOpen,
      long waitingFiles,
      long waitingRows,
      long reversedRows,
      long inLedger,
      long inTarget,
      List<String> twice,
      List<String> chains,
      List<Sum> sums,
      List<String> contradictions) {}

  /**
   * The sum of a column on its way.
   *
   * @param column the column
   * @param files over all posted files and twins of the landing table's feeds
   * @param duplicate of it, over repeats and twins
   * @param rejected of it, over rows that were rejected or left out, while loading or merging
   * @param superseded of it, over landed rows that gave way, or said what was there already
   * @param replaced what the target had before, and was replaced or removed
   * @param waiting of it, over rows that are not merged yet
   * @param before what the target had before the first merge
   * @param inLedger what the target should have, by the merges
   * @param inTarget what it has
   * @param reversed what left the landing table after it was merged, and the target still has
   */
  public record Sum(
      String column,
      BigDecimal files,
      BigDecimal duplicate,
      BigDecimal rejected,
      BigDecimal superseded,
      BigDecimal replaced,
      BigDecimal waiting,
      BigDecimal before,
      BigDecimal inLedger,
      BigDecimal inTarget,
      BigDecimal reversed) {

    /** Whether every part of it is accounted for. */
    public boolean agrees() {
      BigDecimal parts =
          inTarget
              .subtract(before)
              .add(duplicate)
              .add(rejected)
              .add(superseded)
              .add(replaced)
              .add(waiting)
              .subtract(reversed);
      return inLedger.compareTo(inTarget) == 0 && parts.compareTo(files) == 0;
    }
  }

  private final JdbcWarehouse warehouse;

  MergeProofs(JdbcWarehouse warehouse) {
    this.warehouse = warehouse;
  }

  /** Proves a merge; nothing if its target does not exist. */
  public Optional<Proof> prove(Merge merge) {
    if (warehouse.shape(merge.into()).isEmpty()) {
      return Optional.empty();
    }
    return warehouse.transact("Proving merge " + merge.name(), c -> Optional.of(prove(c, merge)));
  }

  private static Proof prove(Connection c, Merge merge) throws SQLException {
    String name = literal(merge.name());
    String into = literal(merge.into().toString());
    String target = Identifiers.quote(merge.into());
    String landing =
        merge.source() instanceof MergeSource.Landing l ? literal(l.table().toString()) : "''";
    String waiting =
        """
        from dusky.tally t join dusky.load l on l.load_id = t.load_id
        where l.into_table = %s and t.state in ('posted', 'mended') and t.reversed_by is null
          and t.loaded_rows > 0 and not exists (select 1 from dusky.merge_file m
            where m.merge_name = %s and m.load_id = t.load_id and m.file_id = t.file_id)"""
            .formatted(landing, name);
    long expected =
        number(
                c,
                "select coalesce(sum(coalesce(rows_before, 0) + added_rows - removed_rows), 0)"
                    + " from dusky.merge_run where state = 'done' and into_table = "
                    + into)
            + number(
                c,
                """
                select coalesce(sum(p.added_rows), 0) from dusky.merge_placeholder p
                where p.into_table = %s and p.merge_id > (select coalesce(min(r.merge_id), 0)
                  from dusky.merge_run r where r.state = 'done' and r.into_table = %s)"""
                    .formatted(into, into));
    return new Proof(
        tally(c, name),
        number(c, "select count(*) from dusky.merge_reject where merge_name = " + name),
        number(
            c,
            "select count(*) from dusky.merge_reject where state = 'open' and merge_name = "
                + name),
        number(c, "select count(*) " + waiting),
        number(c, "select coalesce(sum(t.loaded_rows), 0) " + waiting),
        number(
            c,
            """
            select coalesce(sum(m.landed_rows), 0) from dusky.merge_file m
            where m.merge_name = %s and exists (select 1 from dusky.tally t
              where t.load_id = m.load_id and t.file_id = m.file_id
                and t.reversed_by is not null)"""
                .formatted(name)),
        expected,
        number(c, "select count(*) from " + target),
        twice(c, merge, target),
        chains(c, merge, target),
        sums(c, merge, name, landing, target),
        contradictions(c, merge, target));
  }

  private static List<String> contradictions(Connection c, Merge merge, String target)
      throws SQLException {
    List<String> found = new ArrayList<>();
    LedgerProofs.seals(
        c,
        "select %s, seal from dusky.merge_run where seal is not null and merge_name = ?"
            .formatted(Seal.MERGE),
        merge.name(),
        "the entry of merge %s (%s)",
        found);
    if (merge.source() instanceof MergeSource.Landing) {
      found.addAll(
          some(
              c,
              """
              select 'merge ' || cast(r.merge_id as varchar) || ' took '
                  || cast(r.landed_rows as varchar) || ' rows, its files in dusky.merge_file had '
                  || cast(coalesce(sum(m.landed_rows), 0) as varchar)
              from dusky.merge_run r left join dusky.merge_file m on m.merge_id = r.merge_id
              where r.merge_name = %s and r.state = 'done' and not r.retry
              group by r.merge_id, r.landed_rows
              having r.landed_rows <> coalesce(sum(m.landed_rows), 0)"""
                      .formatted(literal(merge.name()))
                  + SHOWN));
    }
    for (Lookup lookup : merge.lookups()) {
      String column = "t." + Identifiers.quote(lookup.column());
      String allowed =
          lookup.unknown() instanceof Lookup.Unknown.Default other
              ? " and cast(%s as varchar) <> %s".formatted(column, literal(other.value()))
              : "";
      long dangling =
          number(
              c,
              """
              select count(*) from %s t where %s is not null%s
                and not exists (select 1 from %s d where d.%s = %s)"""
                  .formatted(
                      target,
                      column,
                      allowed,
                      Identifiers.quote(lookup.table()),
                      Identifiers.quote(lookup.take()),
                      column));
      if (dangling > 0) {
        found.add(
            "%,d rows have a %s that is no %s of %s"
                .formatted(dangling, lookup.column(), lookup.take(), lookup.table()));
      }
    }
    return found;
  }

  private static MergeTally tally(Connection c, String name) throws SQLException {
    try (Statement statement = c.createStatement();
        ResultSet row =
            statement.executeQuery(
                "select coalesce(sum(landed_rows), 0), coalesce(sum(inserted_rows), 0),"
                    + " coalesce(sum(updated_rows), 0), coalesce(sum(unchanged_rows), 0),"
                    + " coalesce(sum(superseded_rows), 0), coalesce(sum(deleted_rows), 0),"
                    + " coalesce(sum(rejected_rows), 0), coalesce(sum(missing_rows), 0)"
                    + " from dusky.merge_run where state = 'done' and merge_name = "
                    + name)) {
      row.next();
      return new MergeTally(
          row.getLong(1),
          row.getLong(2),
          row.getLong(3),
          row.getLong(4),
          row.getLong(5),
          row.getLong(6),
          row.getLong(7),
          row.getLong(8));
    }
  }

  private static List<String> twice(Connection c, Merge merge, String target) throws SQLException {
    List<String> columns = new ArrayList<>(merge.key());
    merge.history().map(History::from).ifPresent(columns::add);
    return some(
        c,
        "select %s || ': ' || cast(count(*) as varchar) || ' rows' from %s t group by %s having count(*) > 1%s"
            .formatted(MergeChecks.keyText("t", columns), target, names("t", columns), SHOWN));
  }

  /** Overlaps, gaps that no deletion explains, and open versions that are not current. */
  private static List<String> chains(Connection c, Merge merge, String target) throws SQLException {
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
    return some(
        c,
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
                MergeChecks.keyText("c", merge.key()),
                from,
                from,
                names("t", merge.key()),
                from,
                target,
                SHOWN));
  }

  private static List<Sum> sums(
      Connection c, Merge merge, String name, String landing, String target) throws SQLException {
    List<Sum> sums = new ArrayList<>();
    for (String column : merge.totals()) {
      String sql =
          """
          select coalesce(f.loaded + f.others + f.duplicate, 0), coalesce(f.duplicate, 0),
            coalesce(f.others, 0) + coalesce(m.rejected, 0), coalesce(m.superseded, 0),
            coalesce(m.replaced, 0), coalesce(f.loaded, 0) - coalesce(m.landed, 0) + v.reversed,
            coalesce(m.earlier, 0), coalesce(m.earlier + m.written - m.replaced, 0),
            (select coalesce(sum(cast(t.%s as numeric(60, 20))), 0) from %s t), v.reversed
          from (
            select sum(x.loaded_total) as loaded, sum(x.other_total) as others,
              sum(x.duplicate_total) as duplicate
            from dusky.control_total x
            join dusky.tally t on t.load_id = x.load_id and t.file_id = x.file_id
            join dusky.load l on l.load_id = x.load_id
            where l.into_table = %s and x.column_name = %s and t.reversed_by is null
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
            where r.merge_name = %s and x.column_name = %s
          ) m
          cross join (
            select coalesce(sum(x.loaded_total), 0) as reversed
            from dusky.control_total x
            join dusky.tally t on t.load_id = x.load_id and t.file_id = x.file_id
            join dusky.merge_file g on g.load_id = x.load_id and g.file_id = x.file_id
            where g.merge_name = %s and x.column_name = %s and t.reversed_by is not null
              and t.state in ('posted', 'mended')
          ) v"""
              .formatted(
                  Identifiers.quote(column),
                  target,
                  landing,
                  literal(column),
                  name,
                  literal(column),
                  name,
                  literal(column));
      try (Statement statement = c.createStatement();
          ResultSet row = statement.executeQuery(sql)) {
        row.next();
        sums.add(
            new Sum(
                column,
                plain(row, 1),
                plain(row, 2),
                plain(row, 3),
                plain(row, 4),
                plain(row, 5),
                plain(row, 6),
                plain(row, 7),
                plain(row, 8),
                plain(row, 9),
                plain(row, 10)));
      }
    }
    return sums;
  }

  private static BigDecimal plain(ResultSet row, int column) throws SQLException {
    BigDecimal number = row.getBigDecimal(column).stripTrailingZeros();
    return number.setScale(Math.max(0, number.scale()), RoundingMode.UNNECESSARY);
  }

  private static long number(Connection c, String sql) throws SQLException {
    try (Statement statement = c.createStatement();
        ResultSet row = statement.executeQuery(sql)) {
      row.next();
      return row.getLong(1);
    }
  }

  private static List<String> some(Connection c, String sql) throws SQLException {
    List<String> found = new ArrayList<>();
    try (Statement statement = c.createStatement();
        ResultSet row = statement.executeQuery(sql)) {
      while (row.next()) {
        found.add(row.getString(1));
      }
    }
    return found;
  }

  private static String names(String alias, List<String> columns) {
    return columns.stream()
        .map(n -> alias + "." + Identifiers.quote(n))
        .collect(Collectors.joining(", "));
  }

  private static String literal(String text) {
    return "'" + text.replace("'", "''") + "'";
  }
}
