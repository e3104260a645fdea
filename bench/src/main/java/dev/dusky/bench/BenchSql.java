package dev.dusky.bench;

import dev.dusky.core.warehouse.ResultTaker;
import dev.dusky.core.warehouse.Warehouse;
import java.util.ArrayList;
import java.util.List;

/** Statements of the benchmarks. */
final class BenchSql {

  private BenchSql() {}

  /** Runs a statement; the values of all its rows, or how many it changed. */
  static List<Object> run(Warehouse warehouse, String sql) {
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
