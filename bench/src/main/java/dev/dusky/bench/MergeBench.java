package dev.dusky.bench;

import dev.dusky.core.merge.ExistingPolicy;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeResult;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.merge.MergeStart;
import dev.dusky.core.merge.MergeTally;
import dev.dusky.core.table.TableName;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.warehouse.Warehouses;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;

/**
 * Landed rows, half of them new, a quarter changed and a quarter as they are, merged into a keyed
 * target five times their number, against statements written by hand that do no more than that. The
 * target has one row a key, or the versions of each key.
 */
final class MergeBench {

  /** What a merge keeps, and whether it sums a column. */
  enum Kind {
    ROWS,
    SUMS,
    VERSIONS
  }

  private static final String COLUMNS =
      "docket_no, farm_code, collected_at, litres, fat, protein, remark, grade, sent_at";

  /** By hand, in one statement. */
  private static final String MERGE =
      """
      merge into bench.target t using (
        select distinct on (docket_no) %s from bench.landed order by docket_no, sent_at desc
      ) s on t.docket_no = s.docket_no
      when matched and (%s) then update set %s
      when not matched then insert (%s) values (%s)"""
          .formatted(COLUMNS, differ("t", "s"), sets("s"), COLUMNS, list("s"));

  /** By hand, by the conflict that a unique key makes. */
  private static final String CONFLICT =
      """
      insert into bench.target as t (%s)
      select distinct on (docket_no) %s from bench.landed order by docket_no, sent_at desc
      on conflict (docket_no) do update set %s where %s"""
          .formatted(COLUMNS, COLUMNS, sets("excluded"), differ("t", "excluded"));

  /** By hand, for versions that come in order: one statement closes the old and adds the new. */
  private static final String VERSIONS =
      """
      with s as materialized (
        select distinct on (docket_no) %s from bench.landed order by docket_no, sent_at desc
      ), known as materialized (
        select t.docket_no as known_no, %s as differs from s join bench.target t
          on t.docket_no = s.docket_no and t.valid_until is null
      ), closed as (
        update bench.target t set valid_until = s.sent_at
        from s join known k on k.known_no = s.docket_no
        where k.differs and t.docket_no = s.docket_no and t.valid_until is null
      )
      insert into bench.target (%s, valid_from)
      select %s, s.sent_at from s left join known k on k.known_no = s.docket_no
      where k.differs is distinct from false"""
          .formatted(COLUMNS, differ("t", "s"), COLUMNS, list("s"));

  private final long rows;
  private final Kind kind;
  private final boolean history;
  private final int turns;

  MergeBench(long rows, Kind kind) {
    this.rows = rows;
    this.kind = kind;
    this.history = kind == Kind.VERSIONS;
    this.turns = Integer.getInteger("turns", 3);
  }

  private static String list(String alias) {
    return alias + "." + COLUMNS.replace(", ", ", " + alias + ".");
  }

  private static String sets(String alias) {
    StringBuilder sets = new StringBuilder();
    for (String column : COLUMNS.split(", ")) {
      if (!column.equals("docket_no")) {
        sets.append(sets.isEmpty() ? "" : ", ").append(column + " = " + alias + "." + column);
      }
    }
    return sets.toString();
  }

  private static String differ(String one, String other) {
    StringBuilder sql = new StringBuilder();
    for (String column : COLUMNS.split(", ")) {
      if (!column.equals("docket_no")) {
        sql.append(sql.isEmpty() ? "" : " or ")
            .append(one + "." + column + " is distinct from " + other + "." + column);
      }
    }
    return sql.toString();
  }

  void run() throws Exception {
    System.out.printf(
        "merge, PostgreSQL: %,d landed rows into %,d%s; half new, a quarter changed%n",
        rows, rows * 5, names());
    try (EmbeddedPostgres server = EmbeddedPostgres.start()) {
      String admin = server.getJdbcUrl("postgres", "postgres");
      run(admin, "create database model");
      String base = admin.replaceAll("/postgres\\?.*", "/");
      DatabaseSettings model =
          new DatabaseSettings(base + "model", Optional.of("postgres"), Optional.empty());
      prepare(model);
      Timed ours = this::ours;
      Timed merge = address -> byHand(address, history ? VERSIONS : MERGE);
      Timed conflict = history ? merge : address -> byHand(address, CONFLICT);
      double[] ratios = new double[turns];
      for (int turn = 0; turn <= turns; turn++) {
        double[] seconds = new double[3];
        int i = 0;
        for (Timed work :
            turn % 2 == 0 ? List.of(ours, merge, conflict) : List.of(conflict, merge, ours)) {
          int which = turn % 2 == 0 ? i : 2 - i;
          i++;
          run(admin, "create database trial template model strategy file_copy");
          run(admin, "checkpoint");
          seconds[which] =
              work.run(
                  new DatabaseSettings(base + "trial", Optional.of("postgres"), Optional.empty()));
          run(admin, "drop database trial");
        }
        if (turn > 0) {
          ratios[turn - 1] = seconds[0] / Math.min(seconds[1], seconds[2]);
        }
        System.out.printf(
            "  %s dusky %.2f s, by hand: merge %.2f s, insert on conflict %.2f s, ratio to the best %.2f%n",
            turn == 0 ? "(warm-up)" : "        ",
            seconds[0],
            seconds[1],
            seconds[2],
            seconds[0] / Math.min(seconds[1], seconds[2]));
      }
      Results.note(
          Ratio.of(history ? "merge of a history" : "merge", "the best statement by hand", ratios));
    }
  }

  private String names() {
    return switch (kind) {
      case ROWS -> "";
      case SUMS -> " with sums";
      case VERSIONS -> " of versions";
    };
  }

  @FunctionalInterface
  private interface Timed {
    double run(DatabaseSettings address) throws Exception;
  }

  private void prepare(DatabaseSettings address) throws Exception {
    try (Warehouse warehouse = Warehouses.open(address)) {
      warehouse.ledger().prepare();
    }
    String types =
        "docket_no bigint not null, farm_code varchar(8), collected_at timestamp,"
            + " litres decimal(9,1), fat decimal(5,2), protein decimal(5,2), remark varchar(60),"
            + " grade char(1), sent_at timestamp";
    String versions = history ? ", valid_from timestamp, valid_until timestamp" : "";
    run(
        address.url(),
        "create schema bench",
        "create table bench.target (" + types + versions + ")",
        "insert into bench.target select n, %s%s from generate_series(1, %d) n"
            .formatted(values("n", "''"), history ? ", timestamp '2026-03-01'" : "", rows * 5),
        "alter table bench.target add primary key (docket_no%s)"
            .formatted(history ? ", valid_from" : ""),
        "create table bench.landed ("
            + types
            + ", dusky_load bigint not null, dusky_file bigint not null, dusky_row bigint not null)",
        "insert into bench.landed select d, %s, 1, 1, n from (%s) x"
            .formatted(
                values("d", "case when n % 4 = 1 then ' changed' else '' end"),
                "select n, case when n %% 2 = 0 then %d + n else n * 5 end as d".formatted(rows * 5)
                    + " from generate_series(1, "
                    + rows
                    + ") n"),
        "insert into dusky.load (feed, into_table, state, started_at, started_by, host,"
            + " tool_version, declared) values ('f', 'bench.landed', 'done', now(), 'x', 'x', 'x', 'x')",
        "insert into dusky.file (feed, path, version, state, size_bytes, modified_at, seen_at)"
            + " values ('f', 'p', 'v', 'posted', 1, now(), now())",
        ("insert into dusky.tally (load_id, file_id, state, read_rows, loaded_rows, duplicate_rows,"
                + " rejected_rows, filtered_rows, withheld_rows, stored_bytes, content_bytes,"
                + " elapsed_ms, written_at) values (1, 1, 'posted', %d, %d, 0, 0, 0, 0, 1, 1, 1, now())")
            .formatted(rows, rows),
        // An earlier merge is in the ledger, so that the target is not counted as at the first one.
        "insert into dusky.merge_run (merge_name, source, into_table, existing, retry, state,"
            + " started_at, started_by, host, tool_version, declared, landed_rows, inserted_rows,"
            + " updated_rows, unchanged_rows, superseded_rows, deleted_rows, rejected_rows,"
            + " missing_rows, added_rows, removed_rows) values ('docket', 'bench.landed',"
            + " 'bench.target', 'overwrite', false, 'done', now(), 'x', 'x', 'x', 'x', 0, 0, 0, 0,"
            + " 0, 0, 0, 0, 0, 0)",
        "insert into dusky.merge_total values (1, 'litres', 0, 0, 0, 0, 0, 0, 0, 0, 0, 0)",
        "vacuum analyze bench.target",
        "vacuum analyze bench.landed");
  }

  /** The values of a row with that number. */
  private static String values(String n, String remark) {
    return ("'WF' || lpad((#N % 9999)::text, 4, '0'), timestamp '2026-03-01' + #N * interval '1 second',"
            + " (#N % 30000) / 10.0, 3.5 + (#N % 100) / 100.0, 3.1, 'remark ' || #N % 1000 || #REMARK,"
            + " 'A', timestamp '2026-03-02'")
        .replace("#REMARK", remark)
        .replace("#N", n);
  }

  private double ours(DatabaseSettings address) throws Exception {
    Merge merge =
        new Merge(
            "docket",
            new MergeSource.Landing(new TableName("bench", "landed")),
            new TableName("bench", "target"),
            false,
            List.of("docket_no"),
            history ? List.of() : List.of("sent_at"),
            Map.of(),
            history
                ? new ExistingPolicy.History(
                    "sent_at", "valid_from", "valid_until", Optional.empty(), List.of())
                : new ExistingPolicy.Overwrite(List.of()),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            List.of(),
            Optional.empty(),
            kind == Kind.SUMS ? List.of("litres") : List.of(),
            List.of());
    try (Warehouse warehouse = Warehouses.open(address)) {
      MergeStart start =
          new MergeStart("bench", "here", "bench", Instant.now(), false, OptionalLong.empty());
      long nanos = System.nanoTime();
      MergeTally tally = merged(warehouse, merge, start);
      double seconds = (System.nanoTime() - nanos) / 1e9;
      if (tally.inserted() != rows / 2 || tally.updated() != rows / 4 || !tally.balanced()) {
        throw new IllegalStateException("the merge was " + tally);
      }
      return seconds;
    }
  }

  private static MergeTally merged(Warehouse warehouse, Merge merge, MergeStart start) {
    List<MergeResult> results = new ArrayList<>();
    warehouse.merges().run(merge, start, table -> {}, results::add);
    return results.get(0).tally();
  }

  private double byHand(DatabaseSettings address, String sql) throws SQLException {
    try (Connection connection = DriverManager.getConnection(address.url(), "postgres", "")) {
      connection.setAutoCommit(false);
      try (Statement statement = connection.createStatement()) {
        long nanos = System.nanoTime();
        long changed = statement.executeLargeUpdate(sql);
        connection.commit();
        double seconds = (System.nanoTime() - nanos) / 1e9;
        if (changed != rows / 2 + rows / 4) {
          throw new IllegalStateException("by hand changed " + changed);
        }
        return seconds;
      }
    }
  }

  private static void run(String url, String... statements) throws SQLException {
    try (Connection connection = DriverManager.getConnection(url, "postgres", "");
        Statement statement = connection.createStatement()) {
      for (String sql : statements) {
        statement.execute(sql);
      }
    }
  }
}
