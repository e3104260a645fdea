package dev.dusky.bench;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.rehearse.Rehearsal;
import dev.dusky.core.table.TableName;
import dev.dusky.core.warehouse.Warehouse;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.stream.Stream;

/**
 * A whole load into a table in a folder, against the same load into PostgreSQL, and against reading
 * and typing alone.
 */
final class LakeBench {

  private static final TableName TABLE = new TableName("bench", "docket_traced");

  private final Path file;
  private final long rows;
  private int turn;
  private double loads;

  LakeBench(Path file, long rows) {
    this.file = file;
    this.rows = rows;
  }

  void run() throws Exception {
    System.out.println("A table in a folder, its ledger in PostgreSQL:");
    try (BenchLake lake = new BenchLake()) {
      Feed feed = BenchFeed.of("bench", file.getFileName().toString(), TABLE);
      lake.database().tables().create(TABLE, feed.columns());
      lake.tables().tables().create(TABLE, feed.columns());
      Turns turns = new Turns(2, 5);
      turns.compare(
          "dusky load into the folder",
          () -> {
            loads++;
            load(lake.tables());
          },
          "dusky load into PostgreSQL",
          () -> load(lake.database()),
          () -> {});
      turns.compare(
          "dusky load into the folder",
          () -> {
            loads++;
            load(lake.tables());
          },
          "reading and typing",
          () -> rehearse(lake.tables()),
          () -> {});
      System.out.printf("  data files: %.1f bytes a row%n", bytes(lake.folder()) / (rows * loads));
    }
  }

  private static double bytes(Path folder) throws IOException {
    try (Stream<Path> files = Files.walk(folder)) {
      double bytes = 0;
      for (Path data : files.filter(f -> f.toString().endsWith(".parquet")).toList()) {
        bytes += Files.size(data);
      }
      return bytes;
    }
  }

  private void load(Warehouse warehouse) {
    check(BenchFeed.load(warehouse, file, TABLE, "bench" + ++turn).tally().loaded());
  }

  private void rehearse(Warehouse lake) {
    Feed feed = BenchFeed.of("rehearsed" + ++turn, file.getFileName().toString(), TABLE);
    Rehearsal rehearsal = new Rehearsal(lake.ledger(), lake.tables(), false);
    try (var depot = BenchDepots.directory(file.getParent())) {
      check(
          new FeedLoader(
                  rehearsal.ledger((path, outcome, rejects) -> {}),
                  rehearsal.tables(),
                  LoadRun.of(feed, depot, new LoadListener() {}, () -> false))
              .run(
                  new LoadStart(
                      LoadKind.LOAD, feed.name(), "", "", "bench", "bench", "bench", Instant.now()))
              .tally()
              .loaded());
    }
  }

  private void check(long loaded) {
    if (loaded != rows) {
      throw new IllegalStateException("loaded " + loaded + " rows, not " + rows);
    }
  }
}
