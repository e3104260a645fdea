package dev.dusky.bench;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.feed.Arrivals;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.feed.TwinPolicy;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.repeat.RepeatPolicy.Keep;
import dev.dusky.core.repeat.RepeatPolicy.Scope;
import dev.dusky.core.table.TableName;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.warehouse.Warehouses;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.io.Writer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Three identical files of 15 columns, loaded into PostgreSQL with whole-row repeats removed:
 * within each file, where every row is written all the same, and within the load, where two thirds
 * fall away; against the same load that looks for none.
 */
final class RepeatBench {

  private static final TableName TABLE = new TableName("bench", "wide");

  private final Path folder;
  private final long rows;
  private int turn;

  RepeatBench(Path folder, long rows) throws IOException {
    this.folder = Files.createDirectories(folder.resolve("repeats"));
    this.rows = rows;
    Path first = this.folder.resolve("a.csv");
    try (Writer out = Files.newBufferedWriter(first)) {
      out.write("c1,c2,c3,c4,c5,c6,c7,c8,c9,c10,c11,c12,c13,c14,c15\n");
      for (long n = 0; n < rows; n++) {
        out.write(
            "%d,%d,%d,%d.%d,%d.%02d,2026-03-02 05:%02d:%02d,WF%04d,T%02d,R%d,%d,remark %d,%d,A,%d,x%d\n"
                .formatted(
                    n,
                    n % 97,
                    n % 1000,
                    n % 30_000,
                    n % 10,
                    n % 99,
                    n % 100,
                    n / 60 % 60,
                    n % 60,
                    n % 9999,
                    n % 24,
                    n % 9,
                    n % 5,
                    n % 1000,
                    n * 7,
                    n % 3,
                    n % 77));
      }
    }
    Files.copy(first, this.folder.resolve("b.csv"));
    Files.copy(first, this.folder.resolve("c.csv"));
  }

  void run() throws Exception {
    System.out.printf("repeats, PostgreSQL: three identical files of %,d rows, 15 columns%n", rows);
    try (EmbeddedPostgres server = EmbeddedPostgres.start()) {
      String url = server.getJdbcUrl("postgres", "postgres").replaceAll("\\?.*", "");
      try (Warehouse warehouse =
          Warehouses.open(new DatabaseSettings(url, Optional.of("postgres"), Optional.empty()))) {
        warehouse.ledger().prepare();
        BenchSql.run(warehouse, "create schema bench");
        StringBuilder columns = new StringBuilder();
        for (FeedColumn column : columns()) {
          columns.append(column.name()).append(' ').append(column.type()).append(", ");
        }
        BenchSql.run(
            warehouse,
            "create table bench.wide ("
                + columns
                + "dusky_load bigint not null, dusky_file bigint not null, dusky_row bigint not null)");
        Turns turns = new Turns(1, 5);
        Turns.Work reset =
            () -> {
              BenchSql.run(warehouse, "truncate table bench.wide");
              BenchSql.run(warehouse, "checkpoint");
            };
        RepeatPolicy none =
            new RepeatPolicy(false, List.of(), Scope.FILE, Keep.FIRST, List.of(), 0);
        for (Scope scope : List.of(Scope.FILE, Scope.LOAD)) {
          RepeatPolicy policy =
              new RepeatPolicy(true, List.of(), scope, Keep.FIRST, List.of(), 256);
          turns.compare(
              "repeats removed, scope " + scope.label(),
              () -> load(warehouse, policy, scope == Scope.FILE ? 3 : 1),
              "not looked for",
              () -> load(warehouse, none, 3),
              reset);
        }
        turns.compare(
            "exact repeats counted (the default)",
            () -> load(warehouse, RepeatPolicy.COUNTED, 3),
            "not looked for",
            () -> load(warehouse, none, 3),
            reset);
      }
    }
  }

  private static List<FeedColumn> columns() {
    String[] types = {
      "bigint", "integer", "integer", "decimal(9,1)", "decimal(5,2)", "timestamp", "varchar(8)",
      "varchar(4)", "varchar(4)", "smallint", "varchar(60)", "bigint", "char(1)", "integer",
      "varchar(9)"
    };
    List<FeedColumn> columns = new ArrayList<>();
    for (int i = 0; i < types.length; i++) {
      columns.add(FeedColumn.plain("c" + (i + 1), SqlType.parse(types[i]).orElseThrow(), false));
    }
    return columns;
  }

  private void load(Warehouse warehouse, RepeatPolicy policy, int files) {
    String name = "repeats" + ++turn;
    Feed feed =
        new Feed(
            name,
            "yard",
            FilePattern.of("*.csv"),
            DelimitedLayout.plain("wide"),
            TABLE,
            false,
            columns(),
            Optional.empty(),
            List.of(),
            FeedPolicies.DEFAULT
                .withRepeats(policy)
                .withArrivals(Arrivals.DEFAULT.withTwins(TwinPolicy.LOAD)));
    try (Depot depot = BenchDepots.directory(folder)) {
      LoadResult result =
          new FeedLoader(
                  warehouse.ledger(),
                  warehouse.tables(),
                  LoadRun.of(feed, depot, new LoadListener() {}, () -> false))
              .run(
                  new LoadStart(
                      LoadKind.LOAD,
                      name,
                      TABLE.toString(),
                      "b",
                      "b",
                      "b",
                      "b",
                      java.time.Instant.now()));
      if (result.tally().loaded() != rows * files || !result.tally().balanced()) {
        throw new IllegalStateException("the load was " + result.tally());
      }
    }
  }
}
