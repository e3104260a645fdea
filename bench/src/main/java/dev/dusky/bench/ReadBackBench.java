package dev.dusky.bench;

import dev.dusky.core.table.TableName;
import dev.dusky.core.warehouse.ResultTaker;
import dev.dusky.core.warehouse.Warehouse;
import java.nio.file.Path;
import java.util.ArrayList;
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
      ask(tables, "create table bench.docket_written as select * from " + LOADED);
      for (String query : List.of(ROWS + "%s", FEW)) {
        String loaded = query.formatted(LOADED);
        String written = query.formatted("bench.docket_written");
        if (!ask(tables, loaded).equals(ask(tables, written))) {
          throw new IllegalStateException("the tables differ");
        }
        String what = query.equals(FEW) ? "some rows" : "all rows";
        new Turns(4, 11)
            .compare(
                what + ", table loaded by dusky",
                () -> ask(tables, loaded),
                what + ", table written by the engine",
                () -> ask(tables, written),
                () -> {});
      }
    }
  }

  private static List<Object> ask(Warehouse warehouse, String sql) {
    List<Object> all = new ArrayList<>();
    warehouse.run(
        sql,
        new ResultTaker() {
          @Override
          public void columns(List<String> names, List<Boolean> numeric) {}

          @Override
          public void row(List<Object> values) {
            all.addAll(values);
          }

          @Override
          public void changed(long count) {
            all.add(count);
          }
        });
    return all;
  }
}
