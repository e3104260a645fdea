package dev.dusky.bench;

import dev.dusky.core.load.LoadResult;
import dev.dusky.core.table.TableName;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.warehouse.Warehouses;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.Writer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;

/**
 * A load of which the table itself refuses some rows, scattered over the file, against the same
 * load without them: keys that are taken, keys that are not there, a check that does not hold.
 */
final class RefusalBench {

  private static final TableName TABLE = new TableName("bench", "docket");
  private static final int REFUSED = 500;

  private final Path clean;
  private final Path dirty;
  private final long rows;
  private boolean triggerOnly;
  private int turn;

  RefusalBench(Path clean, long rows) throws IOException {
    this.clean = clean;
    this.rows = rows;
    this.dirty = clean.resolveSibling("dirty.csv");
    spoil();
  }

  private void spoil() throws IOException {
    long every = rows / REFUSED;
    try (BufferedReader in = Files.newBufferedReader(clean);
        Writer out = Files.newBufferedWriter(dirty)) {
      out.write(in.readLine() + "\n");
      for (long row = 0; row < rows; row++) {
        String line = in.readLine();
        if (row % every == every / 2) {
          String[] fields = line.split(",", 5);
          switch ((int) (row / every % 3)) {
            case 0 -> fields[0] = "480000";
            case 1 -> fields[1] = "XX" + row % 10_000;
            default -> fields[3] = "-1.0";
          }
          line = String.join(",", fields);
        }
        out.write(line + "\n");
      }
    }
  }

  /** Compares on one of the databases, or only with the trigger, or all if nothing is named. */
  void run(String only) throws Exception {
    triggerOnly = only.equals("trigger");
    if (only.isEmpty() || only.equals("h2")) {
      compareH2();
    }
    if (!only.equals("h2")) {
      comparePostgres();
    }
    Files.delete(dirty);
  }

  private void comparePostgres() throws Exception {
    try (EmbeddedPostgres server = EmbeddedPostgres.start()) {
      String url = server.getJdbcUrl("postgres", "postgres").replaceAll("\\?.*", "");
      compare(
          "PostgreSQL", new DatabaseSettings(url, Optional.of("postgres"), Optional.empty()), true);
    }
  }

  private void compareH2() throws Exception {
    Path folder = Files.createTempDirectory("dusky-bench-h2-");
    compare(
        "H2",
        new DatabaseSettings(
            "jdbc:h2:file:" + folder.resolve("warehouse"), Optional.empty(), Optional.empty()),
        false);
    try (var files = Files.list(folder)) {
      for (Path file : files.toList()) {
        Files.delete(file);
      }
    }
    Files.delete(folder);
  }

  private void compare(String name, DatabaseSettings address, boolean postgres) throws Exception {
    System.out.printf("%s, %,d rows, %d of them refused by the table:%n", name, rows, REFUSED);
    try (Warehouse warehouse = Warehouses.open(address)) {
      warehouse.ledger().prepare();
      BenchSql.run(warehouse, "create schema bench");
      BenchSql.run(warehouse, "create table bench.farm (code varchar(8) primary key)");
      BenchSql.run(
          warehouse,
          postgres
              ? "insert into bench.farm select 'WF' || lpad(n::text, 4, '0')"
                  + " from generate_series(0, 9999) n"
              : "insert into bench.farm select 'WF' || lpad(cast(s.n as varchar), 4, '0')"
                  + " from system_range(0, 9999) s(n)");
      BenchSql.run(warehouse, postgres ? "analyze bench.farm" : "analyze table bench.farm");
      BenchSql.run(
          warehouse,
          "create table bench.docket ("
              + BenchData.COLUMNS
              + ", dusky_load bigint not null, dusky_file bigint not null, dusky_row bigint not null,"
              + " primary key (docket_no), foreign key (farm_code) references bench.farm,"
              + " check (litres >= 0))");
      Turns turns = new Turns(1, 5);
      Turns.Work reset =
          () -> {
            BenchSql.run(warehouse, "truncate table bench.docket");
            BenchSql.run(warehouse, "checkpoint");
          };
      if (!triggerOnly) {
        turns.compare(
            "load into %s with refusals".formatted(name),
            () -> load(warehouse, dirty, REFUSED),
            "without",
            () -> load(warehouse, clean, 0),
            reset);
      }
      if (postgres) {
        judged(warehouse, turns, reset);
      }
    }
  }

  /** Refusals that only the table can judge. */
  private void judged(Warehouse warehouse, Turns turns, Turns.Work reset) throws Exception {
    BenchSql.run(warehouse, "truncate table bench.docket");
    BenchSql.run(warehouse, "alter table bench.docket drop constraint docket_litres_check");
    BenchSql.run(warehouse, "alter table bench.docket drop constraint docket_farm_code_fkey");
    BenchSql.run(
        warehouse,
        "create function bench.judge() returns trigger language plpgsql as $$ begin"
            + " if new.litres < 0 or new.farm_code like 'XX%' then raise exception 'no'; end if;"
            + " return new; end $$");
    BenchSql.run(
        warehouse,
        "create trigger judge before insert on bench.docket"
            + " for each row execute function bench.judge()");
    turns.compare(
        "load with refusals by a trigger",
        () -> load(warehouse, dirty, REFUSED),
        "without, with the trigger",
        () -> load(warehouse, clean, 0),
        reset);
  }

  private void load(Warehouse warehouse, Path file, long refused) {
    LoadResult result = BenchFeed.load(warehouse, file, TABLE, "bench" + ++turn);
    if (result.tally().loaded() != rows - refused || result.tally().rejected() != refused) {
      throw new IllegalStateException("the load was " + result.tally());
    }
  }
}
