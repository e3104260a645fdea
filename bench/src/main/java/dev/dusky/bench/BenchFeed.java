package dev.dusky.bench;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.table.TableName;
import dev.dusky.core.tally.Tolerance;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.warehouse.Warehouse;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** The feed that the benchmarks load, and one whole load of it. */
final class BenchFeed {

  private BenchFeed() {}

  static Feed of(String name, String file, TableName into) {
    return new Feed(
        name,
        "yard",
        FilePattern.of(file),
        DelimitedLayout.plain("dockets"),
        into,
        false,
        List.of(
            column("docket_no", "bigint", true),
            column("farm_code", "varchar(8)", true),
            column("collected_at", "timestamp", true),
            column("litres", "decimal(9,1)", true),
            column("fat", "decimal(5,2)", false),
            column("protein", "decimal(5,2)", false),
            column("remark", "varchar(60)", false),
            column("grade", "char(1)", false)),
        Optional.empty(),
        List.of(),
        FeedPolicies.DEFAULT.withTolerance(new Tolerance.Any()));
  }

  private static FeedColumn column(String name, String type, boolean notNull) {
    return FeedColumn.plain(name, SqlType.parse(type).orElseThrow(), notNull);
  }

  /** Loads the file under its own feed, so that it counts as waiting each time. */
  static LoadResult load(Warehouse warehouse, Path file, TableName into, String feedName) {
    return load(warehouse, file, of(feedName, file.getFileName().toString(), into));
  }

  /** Loads the file with a feed. */
  static LoadResult load(Warehouse warehouse, Path file, Feed feed) {
    try (Depot depot = BenchDepots.directory(file.getParent())) {
      LoadStart start =
          new LoadStart(
              LoadKind.LOAD,
              feed.name(),
              feed.into().toString(),
              "benchmark",
              "bench",
              "bench",
              "bench",
              java.time.Instant.now());
      return new FeedLoader(
              warehouse.ledger(),
              warehouse.tables(),
              LoadRun.of(feed, depot, new LoadListener() {}, () -> false))
          .run(start);
    }
  }
}
