package dev.dusky.bench;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.table.TableName;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.warehouse.Warehouses;
import dev.dusky.standin.StandIn;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.BufferedReader;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.time.Instant;
import java.util.Iterator;
import java.util.Optional;

/**
 * Many small files against one large one, large ones in parallel, and few new files among very many
 * posted ones.
 */
final class FilesBench {

  private static final int FILES = 10_000;
  private static final int ROWS = 50;
  private static final int FEW = 8;
  private static final int KEYS = Integer.getInteger("keys", 1_000_000);
  private static final TableName TABLE = new TableName("bench", "docket");

  private final Path folder;
  private int turn;

  FilesBench(Path folder) {
    this.folder = folder;
  }

  void run() throws Exception {
    try (EmbeddedPostgres server = EmbeddedPostgres.start()) {
      String url = server.getJdbcUrl("postgres", "postgres");
      try (Connection connection = DriverManager.getConnection(url);
          Warehouse warehouse = open(url, DatabaseSettings.DEFAULT_CONNECTIONS);
          Warehouse narrow = open(url, 1)) {
        execute(connection, "create schema bench");
        execute(
            connection,
            "create table bench.docket ("
                + BenchData.COLUMNS
                + ", dusky_load bigint not null, dusky_file bigint not null, dusky_row bigint not null)");
        warehouse.ledger().prepare();
        small(connection, warehouse);
        sideBySide(connection, warehouse, narrow);
        finding(connection, warehouse);
      }
    }
  }

  private static Warehouse open(String url, int connections) {
    return Warehouses.open(
        new DatabaseSettings(
            url.replaceAll("\\?.*", ""), Optional.of("postgres"), Optional.empty(), connections));
  }

  /** The same rows in a few large files, on several connections and on one. */
  private void sideBySide(Connection connection, Warehouse warehouse, Warehouse narrow)
      throws Exception {
    Path yard = folder.resolve("yard");
    split(yard, "few", FEW);
    try (Depot depot = BenchDepots.directory(yard)) {
      System.out.printf("%d files of %,d rows, PostgreSQL:%n", FEW, FILES * ROWS / FEW);
      new Turns(1, 5)
          .compare(
              "on %d connections".formatted(DatabaseSettings.DEFAULT_CONNECTIONS),
              () -> load(warehouse, depot, "few/*.csv"),
              "on one connection",
              () -> load(narrow, depot, "few/*.csv"),
              () -> execute(connection, "truncate bench.docket"));
    }
  }

  private void small(Connection connection, Warehouse warehouse) throws Exception {
    Path yard = Files.createDirectories(folder.resolve("yard"));
    BenchData.write(yard.resolve("one.csv"), (long) FILES * ROWS);
    split(yard, "many", FILES);
    try (Depot depot = BenchDepots.directory(yard)) {
      System.out.printf("%,d files of %d rows, PostgreSQL:%n", FILES, ROWS);
      new Turns(1, 3)
          .compare(
              "many files",
              () -> load(warehouse, depot, "many/*.csv"),
              "one file with the same rows",
              () -> load(warehouse, depot, "one.csv"),
              () -> execute(connection, "truncate bench.docket"));
    }
  }

  /** Cuts the one file into small ones. */
  private static void split(Path yard, String into, int files) throws Exception {
    Files.createDirectories(yard.resolve(into));
    try (BufferedReader lines = Files.newBufferedReader(yard.resolve("one.csv"))) {
      String header = lines.readLine();
      for (int file = 0; file < files; file++) {
        StringBuilder text = new StringBuilder(header).append('\n');
        for (int row = 0; row < FILES * ROWS / files; row++) {
          text.append(lines.readLine()).append('\n');
        }
        Files.writeString(yard.resolve("%s/%05d.csv".formatted(into, file)), text);
      }
    }
  }

  private void load(Warehouse warehouse, Depot depot, String files) {
    LoadResult result = load(warehouse, depot, BenchFeed.of("files" + ++turn, files, TABLE));
    if (result.tally().loaded() != (long) FILES * ROWS) {
      throw new IllegalStateException("loaded " + result.tally().loaded());
    }
  }

  private static LoadResult load(Warehouse warehouse, Depot depot, Feed feed) {
    LoadStart start =
        new LoadStart(
            LoadKind.LOAD,
            feed.name(),
            feed.into().toString(),
            "benchmark",
            "bench",
            "bench",
            "bench",
            Instant.now());
    return new FeedLoader(
            warehouse.ledger(),
            warehouse.tables(),
            LoadRun.of(feed, depot, new LoadListener() {}, () -> false))
        .run(start);
  }

  /** The stand-in lists keys it makes up; all but ten are in the ledger. */
  private void finding(Connection connection, Warehouse warehouse) throws Exception {
    try (StandIn store = StandIn.start(folder.resolve("buckets"), "key", "secret", 0)) {
      store.pretend("bench", KEYS);
      execute(
          connection,
          """
          insert into dusky.file (feed, path, version, state, size_bytes, modified_at, seen_at)
          select 'found', 'day/' || lpad(n::text, 9, '0') || '.csv', '100:e' || n, 'posted', 100,
            now(), now()
          from generate_series(0, %d) n where n %% %d <> 7"""
              .formatted(KEYS - 1, KEYS / 10));
      execute(connection, "analyze dusky.file");
      Feed feed = BenchFeed.of("found", "day/*.csv", TABLE);
      try (Depot depot = BenchDepots.store(store.endpoint())) {
        System.out.printf("ten new files among %,d keys, S3 stand-in and PostgreSQL:%n", KEYS);
        new Turns(1, 3)
            .compare(
                "finding them",
                () -> find(warehouse, depot, feed),
                "the listing alone",
                () -> count(depot.list("day/")),
                () -> {});
      }
    }
  }

  private static void find(Warehouse warehouse, Depot depot, Feed feed) {
    dev.dusky.core.load.KnownFiles states =
        new dev.dusky.core.load.KnownFiles(warehouse.ledger(), depot, feed, Instant.now());
    int waiting = 0;
    while (states.hasNext()) {
      waiting += states.next().state() == dev.dusky.core.ledger.FileState.WAITING ? 1 : 0;
    }
    if (waiting != 10) {
      throw new IllegalStateException("found " + waiting);
    }
  }

  private static void count(Iterator<?> listing) {
    int count = 0;
    while (listing.hasNext()) {
      listing.next();
      count++;
    }
    if (count != KEYS) {
      throw new IllegalStateException("listed " + count);
    }
  }

  private static void execute(Connection connection, String sql) throws IOException {
    try (Statement statement = connection.createStatement()) {
      statement.execute(sql);
    } catch (java.sql.SQLException e) {
      throw new IOException(sql, e);
    }
  }
}
