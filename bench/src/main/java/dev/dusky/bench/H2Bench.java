package dev.dusky.bench;

import dev.dusky.core.table.TableName;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.warehouse.Warehouses;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.Statement;
import java.time.LocalDateTime;
import java.util.Optional;
import java.util.stream.Stream;

/** A whole load into embedded H2, against a bare loop of prepared batches with ready values. */
final class H2Bench {

  private static final TableName TABLE = new TableName("bench", "docket");
  private static final int BATCH = 5_000;

  private final Path file;
  private final long rows;
  private Path database;

  H2Bench(Path file, long rows) {
    this.file = file;
    this.rows = rows;
  }

  void run() throws Exception {
    System.out.println("H2, a fresh database file each time:");
    new Turns(1, 5)
        .compare("dusky load", this::load, "bare prepared batches", this::bare, this::fresh);
  }

  private String url() {
    return "jdbc:h2:file:" + database.resolve("bench") + ";DATABASE_TO_LOWER=TRUE;WRITE_DELAY=0";
  }

  private void fresh() throws Exception {
    if (database != null) {
      try (Stream<Path> files = Files.list(database)) {
        for (Path old : files.toList()) {
          Files.delete(old);
        }
      }
      Files.delete(database);
    }
    database = Files.createTempDirectory("dusky-bench-h2-");
    try (Connection connection = DriverManager.getConnection(url(), "dusky", "");
        Statement statement = connection.createStatement()) {
      statement.execute("create schema bench");
      statement.execute("create table bench.docket (" + BenchData.COLUMNS + ")");
    }
  }

  private void load() throws IOException {
    DatabaseSettings address =
        new DatabaseSettings(
            "jdbc:h2:file:" + database.resolve("bench"), Optional.empty(), Optional.empty());
    try (Warehouse warehouse = Warehouses.open(address)) {
      warehouse.ledger().prepare();
      long loaded = BenchFeed.load(warehouse, file, TABLE, "bench").tally().loaded();
      if (loaded != rows) {
        throw new IllegalStateException("dusky loaded " + loaded + " rows, not " + rows);
      }
    }
  }

  private void bare() throws Exception {
    LocalDateTime moment = LocalDateTime.of(2026, 3, 2, 5, 46, 12);
    BigDecimal litres = new BigDecimal("1432.9");
    BigDecimal share = new BigDecimal("4.21");
    try (Connection connection = DriverManager.getConnection(url(), "dusky", "")) {
      connection.setAutoCommit(false);
      try (PreparedStatement insert =
          connection.prepareStatement("insert into bench.docket values (?, ?, ?, ?, ?, ?, ?, ?)")) {
        for (long row = 0; row < rows; row++) {
          insert.setLong(1, row);
          insert.setString(2, "WF0310");
          insert.setObject(3, moment);
          insert.setBigDecimal(4, litres);
          insert.setBigDecimal(5, share);
          insert.setBigDecimal(6, share);
          insert.setString(7, "gate locked, waited");
          insert.setString(8, "B");
          insert.addBatch();
          if ((row + 1) % BATCH == 0) {
            insert.executeBatch();
          }
        }
        insert.executeBatch();
      }
      connection.commit();
    }
  }
}
