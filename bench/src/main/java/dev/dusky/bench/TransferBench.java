package dev.dusky.bench;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.LoadMode;
import dev.dusky.core.source.Source;
import dev.dusky.core.source.SourceListener;
import dev.dusky.core.source.SourceStager;
import dev.dusky.core.stage.LocalFile;
import dev.dusky.core.stream.StreamName;
import dev.dusky.core.table.TableName;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.warehouse.Warehouses;
import dev.dusky.warehouses.source.JdbcSourceDatabases;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.Statement;
import java.time.LocalDateTime;
import java.util.Optional;
import java.util.Set;

/**
 * A source on PostgreSQL against the driver's bare read of the same query, and a load that replaces
 * a table against one that appends the same rows to it.
 */
final class TransferBench {

  private static final TableName TABLE = new TableName("bench", "docket");

  private static final SourceListener SILENT =
      new SourceListener() {
        @Override
        public void read(long rows) {}

        @Override
        public void remark(String text) {}

        @Override
        public void sent(long bytes) {}

        @Override
        public void done(LocalFile file, Outcome outcome, String why) {}
      };

  private final Path folder;
  private final Path file;
  private final long rows;
  private int turn;

  TransferBench(Path folder, Path file, long rows) {
    this.folder = folder;
    this.file = file;
    this.rows = rows;
  }

  void run() throws Exception {
    System.out.println("PostgreSQL, one table of these rows:");
    try (EmbeddedPostgres server = EmbeddedPostgres.start()) {
      String url = server.getJdbcUrl("postgres", "postgres").replaceAll("\\?.*", "");
      try (Connection connection = DriverManager.getConnection(url, "postgres", "");
          Warehouse warehouse =
              Warehouses.open(
                  new DatabaseSettings(url, Optional.of("postgres"), Optional.empty()))) {
        execute(connection, "create schema bench");
        execute(connection, "create table bench.docket (" + BenchData.COLUMNS + ")");
        warehouse.ledger().prepare();
        fill(connection, warehouse);
        for (String ending : new String[] {".parquet", ".jsonl.zst", ".jsonl"}) {
          new Turns(1, 5)
              .compare(
                  "a source as *" + ending,
                  () -> stage(warehouse, url, ending),
                  "driver's bare read",
                  () -> read(url),
                  () -> {});
        }
        new Turns(1, 5)
            .compare(
                "a load that replaces",
                () -> load(warehouse, new LoadMode.Replace(java.util.List.of(), 100)),
                "a load that appends",
                () -> load(warehouse, LoadMode.APPEND),
                () -> fill(connection, warehouse));
      }
    }
  }

  /** The table has the rows once, whatever it had before. */
  private void fill(Connection connection, Warehouse warehouse) throws Exception {
    execute(connection, "truncate bench.docket");
    load(warehouse, LoadMode.APPEND);
    execute(connection, "analyze bench.docket");
    execute(connection, "checkpoint");
  }

  private void load(Warehouse warehouse, LoadMode mode) {
    String name = "bench" + ++turn;
    Feed feed = BenchFeed.of(name, file.getFileName().toString(), TABLE);
    long loaded =
        BenchFeed.load(warehouse, file, feed.withPolicies(feed.policies().withMode(mode)))
            .tally()
            .loaded();
    if (loaded != rows) {
      throw new IllegalStateException("dusky loaded " + loaded + " rows, not " + rows);
    }
  }

  private void stage(Warehouse warehouse, String url, String ending) throws Exception {
    String name = "source" + ++turn;
    Path place = Files.createDirectories(folder.resolve("staged"));
    Source source =
        new Source(
            name,
            new Source.Address(url, Optional.of("postgres"), Optional.empty(), Optional.empty()),
            "select * from bench.docket",
            Optional.empty(),
            Optional.empty(),
            new StreamName(name + "-{n}" + ending),
            new StreamName(name + "-{n}.json"),
            64_000_000);
    try (Depot depot = BenchDepots.directory(place)) {
      long staged =
          new SourceStager(
                  source,
                  depot,
                  warehouse.ledger().sources(),
                  new SourceStager.Plan(false, false, 4, Set.of()),
                  SILENT,
                  () -> false)
              .run(folder.resolve("spool"), "bench", "bench", new JdbcSourceDatabases())
              .run()
              .orElseThrow()
              .rows();
      if (staged != rows) {
        throw new IllegalStateException("dusky staged " + staged + " rows, not " + rows);
      }
    }
    try (var left = Files.list(place)) {
      for (Path path : left.toList()) {
        Files.delete(path);
      }
    }
  }

  /** Every value of every row, each with the getter of its type. */
  private void read(String url) throws Exception {
    try (Connection connection = DriverManager.getConnection(url, "postgres", "")) {
      connection.setAutoCommit(false);
      try (Statement statement = connection.createStatement()) {
        statement.setFetchSize(10_000);
        long seen = 0;
        long sum = 0;
        try (ResultSet row = statement.executeQuery("select * from bench.docket")) {
          while (row.next()) {
            seen++;
            sum += row.getLong(1);
            sum += length(row.getString(2));
            sum += row.getObject(3, LocalDateTime.class).getNano();
            sum += row.getBigDecimal(4).scale();
            sum += row.getBigDecimal(5) == null ? 0 : 1;
            sum += row.getBigDecimal(6) == null ? 0 : 1;
            sum += length(row.getString(7));
            sum += length(row.getString(8));
          }
        }
        if (seen != rows || sum == 0) {
          throw new IllegalStateException("the driver read " + seen + " rows, not " + rows);
        }
      }
    }
  }

  private static int length(String text) {
    return text == null ? 0 : text.length();
  }

  private static void execute(Connection connection, String sql) throws Exception {
    try (Statement statement = connection.createStatement()) {
      statement.execute(sql);
    }
  }
}
