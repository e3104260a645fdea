package dev.dusky.bench;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.rehearse.Rehearsal;
import dev.dusky.core.table.TableName;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.LakeSettings;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.warehouse.Warehouses;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Optional;
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

  LakeBench(Path file, long rows) {
    this.file = file;
    this.rows = rows;
  }

  void run() throws Exception {
    System.out.println("A table in a folder, its ledger in PostgreSQL:");
    Path folder = Files.createTempDirectory("dusky-bench-tables-");
    try (EmbeddedPostgres server = EmbeddedPostgres.start()) {
      DatabaseSettings settings =
          new DatabaseSettings(
              server.getJdbcUrl("postgres", "postgres").replaceAll("\\?.*", ""),
              Optional.of("postgres"),
              Optional.empty());
      try (Warehouse database = Warehouses.open(settings);
          Warehouse lake =
              Warehouses.open(
                  new LakeSettings(
                      "file:" + folder, Optional.empty(), settings, Optional.empty()))) {
        database.ledger().prepare();
        Feed feed = BenchFeed.of("bench", file.getFileName().toString(), TABLE);
        database.tables().create(TABLE, feed.columns());
        lake.tables().create(TABLE, feed.columns());
        Turns turns = new Turns(2, 5);
        turns.compare(
            "dusky load into the folder",
            () -> load(lake),
            "dusky load into PostgreSQL",
            () -> load(database),
            () -> {});
        turns.compare(
            "dusky load into the folder",
            () -> load(lake),
            "reading and typing",
            () -> rehearse(lake),
            () -> {});
      }
    } finally {
      remove(folder);
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

  private static void remove(Path folder) throws IOException {
    try (Stream<Path> all = Files.walk(folder)) {
      for (Path path : all.sorted((a, b) -> b.compareTo(a)).toList()) {
        Files.delete(path);
      }
    }
  }
}
