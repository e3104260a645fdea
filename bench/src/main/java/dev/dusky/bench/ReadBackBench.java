package dev.dusky.bench;

import dev.dusky.core.table.TableName;
import dev.dusky.core.warehouse.Warehouse;
import java.nio.file.Path;
import java.util.List;

/**
 * Reading a loaded table on the engine, against a table that the engine has written of its rows.
 */
final class ReadBackBench {

  private static final TableName LOADED = new TableName("bench", "docket_loaded");

  private static final String ROWS =
      "select count(*), sum(litres), sum(fat), max(collected_at), count(distinct farm_code),"
          + " max(remark), sum(dusky_row) from ";

  private static final String FEW =
      "select count(*), sum(litres) from %s where docket_no between 1000 and 2000";

  private final Path file;

  ReadBackBench(Path file) {
    this.file = file;
  }

  void run() throws Exception {
    System.out.println("Read by the engine:");
    try (BenchLake lake = new BenchLake()) {
      Warehouse tables = lake.tables();
      tables.tables().create(BenchFeed.of("any", file.getFileName().toString(), LOADED));
      BenchFeed.load(tables, file, LOADED, "bench");
      BenchSql.run(tables, "create table bench.docket_written as select * from " + LOADED);
      for (String query : List.of(ROWS + "%s", FEW)) {
        String loaded = query.formatted(LOADED);
        String written = query.formatted("bench.docket_written");
        if (!BenchSql.run(tables, loaded).equals(BenchSql.run(tables, written))) {
          throw new IllegalStateException("the tables differ");
        }
        String what = query.equals(FEW) ? "some rows" : "all rows";
        new Turns(4, 11)
            .compare(
                what + ", table loaded by dusky",
                () -> BenchSql.run(tables, loaded),
                what + ", table written by the engine",
                () -> BenchSql.run(tables, written),
                () -> {});
      }
    }
  }
}
