package dev.dusky.warehouses;

import dev.dusky.core.merge.DeleteMarker;
import dev.dusky.core.merge.ExistingPolicy;
import dev.dusky.core.merge.GoneKeys;
import dev.dusky.core.merge.Lookup;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeResult;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.merge.MergeStart;
import dev.dusky.core.merge.SnapshotPolicy;
import dev.dusky.core.table.TableName;
import java.math.BigDecimal;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;

/** Lands rows without files, and merges them. */
abstract class MergeTesting extends WarehouseTesting {

  static final TableName LANDED = new TableName("intake", "landed");
  static final TableName TARGET = new TableName("dairy", "target");

  private int files;

  /** A merge to begin with: key k, the latest by ver, overwriting. */
  static Merge merge() {
    return new Merge(
        "target",
        new MergeSource.Landing(LANDED),
        TARGET,
        false,
        List.of("k"),
        List.of("ver"),
        Map.of(),
        new ExistingPolicy.Overwrite(List.of()),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        List.of(),
        Optional.empty(),
        List.of(),
        List.of());
  }

  static Merge with(
      ExistingPolicy existing, Optional<DeleteMarker> deleted, Optional<SnapshotPolicy> missing) {
    Merge m = merge();
    return new Merge(
        m.name(),
        m.source(),
        m.into(),
        m.create(),
        m.key(),
        m.latestBy(),
        m.columns(),
        existing,
        deleted,
        missing,
        m.surrogate(),
        m.placeholder(),
        m.lookups(),
        m.newer(),
        m.totals(),
        m.after());
  }

  static Merge latestBy(Merge m, String... columns) {
    return new Merge(
        m.name(),
        m.source(),
        m.into(),
        m.create(),
        m.key(),
        List.of(columns),
        m.columns(),
        m.existing(),
        m.deleted(),
        m.missing(),
        m.surrogate(),
        m.placeholder(),
        m.lookups(),
        m.newer(),
        m.totals(),
        m.after());
  }

  static Merge dimension(Merge m, String surrogate, String placeholder) {
    return new Merge(
        m.name(),
        m.source(),
        m.into(),
        m.create(),
        m.key(),
        m.latestBy(),
        m.columns(),
        m.existing(),
        m.deleted(),
        m.missing(),
        Optional.ofNullable(surrogate),
        Optional.ofNullable(placeholder),
        m.lookups(),
        m.newer(),
        m.totals(),
        m.after());
  }

  static Merge looking(Merge m, Lookup... lookups) {
    return new Merge(
        m.name(),
        m.source(),
        m.into(),
        m.create(),
        m.key(),
        m.latestBy(),
        m.columns(),
        m.existing(),
        m.deleted(),
        m.missing(),
        m.surrogate(),
        m.placeholder(),
        List.of(lookups),
        m.newer(),
        m.totals(),
        m.after());
  }

  static Merge mapping(Merge m, Map<String, String> columns) {
    return new Merge(
        m.name(),
        m.source(),
        m.into(),
        m.create(),
        m.key(),
        m.latestBy(),
        new LinkedHashMap<>(columns),
        m.existing(),
        m.deleted(),
        m.missing(),
        m.surrogate(),
        m.placeholder(),
        m.lookups(),
        m.newer(),
        m.totals(),
        m.after());
  }

  static Merge from(Merge m, String name, MergeSource source, TableName into, boolean create) {
    return new Merge(
        name,
        source,
        into,
        create,
        m.key(),
        m.latestBy(),
        m.columns(),
        m.existing(),
        m.deleted(),
        m.missing(),
        m.surrogate(),
        m.placeholder(),
        m.lookups(),
        m.newer(),
        m.totals(),
        m.after());
  }

  static Merge newer(Merge m, String column, List<String> totals) {
    return new Merge(
        m.name(),
        m.source(),
        m.into(),
        m.create(),
        m.key(),
        m.latestBy(),
        m.columns(),
        m.existing(),
        m.deleted(),
        m.missing(),
        m.surrogate(),
        m.placeholder(),
        m.lookups(),
        Optional.ofNullable(column),
        totals,
        m.after());
  }

  static ExistingPolicy.History history(String... versions) {
    return new ExistingPolicy.History(
        "at", "valid_from", "valid_to", Optional.of("is_current"), List.of(versions));
  }

  static Optional<DeleteMarker> deleted(GoneKeys then, String into) {
    return Optional.of(new DeleteMarker("gone", List.of("true"), then, Optional.ofNullable(into)));
  }

  static Optional<SnapshotPolicy> missing(GoneKeys then, String into, int most) {
    return Optional.of(
        new SnapshotPolicy(then, Optional.ofNullable(into), BigDecimal.valueOf(most)));
  }

  /** Nothing landed, nothing merged. */
  final void clean() {
    query("delete from dusky.usage");
    for (String table : List.of("placeholder", "total", "reject", "file", "run")) {
      query("delete from dusky.merge_" + table);
    }
    query("update dusky.tally set reversed_by = load_id where reversed_by is null");
    query("delete from dusky.control_total");
    execute("drop schema if exists intake cascade");
    execute("drop schema if exists dairy cascade");
  }

  final void tables(String landed, String target) {
    clean();
    execute("create schema intake");
    execute("create schema dairy");
    execute(
        "create table intake.landed ("
            + landed
            + ", dusky_load bigint not null, dusky_file bigint not null, dusky_row bigint not null)");
    execute("create table dairy.target (" + target + ")");
  }

  /** Lands these rows, each the values of the landing table in SQL, as one posted file. */
  final long land(List<String> rows) {
    return land("intake.landed", "file-%06d".formatted(++files), rows);
  }

  final long land(String table, String path, List<String> rows) {
    execute(
        "insert into dusky.load (feed, into_table, state, started_at, started_by, host,"
            + " tool_version, declared) values ('f', '"
            + table
            + "', 'done', current_timestamp, 'x', 'x', 'x', 'x')");
    long load = number("select max(load_id) from dusky.load");
    execute(
        "insert into dusky.file (feed, path, version, state, size_bytes, modified_at, seen_at)"
            + " values ('f', '%s', '%d', 'posted', 1, current_timestamp, current_timestamp)"
                .formatted(path, load));
    long file = number("select max(file_id) from dusky.file");
    execute(
        "insert into dusky.tally (load_id, file_id, state, read_rows, loaded_rows,"
            + " duplicate_rows, rejected_rows, filtered_rows, withheld_rows, stored_bytes,"
            + " content_bytes, elapsed_ms, written_at) values (%d, %d, 'posted', %d, %d, 0, 0, 0,"
                .formatted(load, file, rows.size(), rows.size())
            + " 0, 1, 1, 1, current_timestamp)");
    for (int from = 0; from < rows.size(); from += 200) {
      StringBuilder sql = new StringBuilder("insert into " + table + " values ");
      for (int i = from; i < Math.min(rows.size(), from + 200); i++) {
        sql.append(i > from ? ", (" : "(")
            .append(rows.get(i))
            .append(", %d, %d, %d)".formatted(load, file, i + 1));
      }
      execute(sql.toString());
    }
    return load;
  }

  final long number(String sql) {
    return ((Number) query(sql).get(0).get(0)).longValue();
  }

  static MergeStart start(boolean retry, OptionalLong rehearsed) {
    return new MergeStart("tester", "here", "test", Instant.now(), retry, rehearsed);
  }

  final List<MergeResult> run(Merge merge) {
    return merging(warehouse, merge, start(false, OptionalLong.empty()), table -> {});
  }

  final MergeResult one(Merge merge) {
    return run(merge).get(0);
  }
}
