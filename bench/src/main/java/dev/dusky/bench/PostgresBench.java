package dev.dusky.bench;

import dev.dusky.core.table.TableName;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.warehouse.Warehouses;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.util.Optional;
import org.postgresql.PGConnection;

/** A whole load into PostgreSQL, against the driver's own COPY of the same bytes. */
final class PostgresBench {

  private static final TableName TABLE = new TableName("bench", "docket");
  private static final TableName TRACED = new TableName("bench", "docket_traced");

  private final Path file;
  private final long rows;
  private int turn;

  PostgresBench(Path file, long rows) {
    this.file = file;
    this.rows = rows;
  }

  void run() throws Exception {
    System.out.println("PostgreSQL, the same table on the same server:");
    try (EmbeddedPostgres server = EmbeddedPostgres.start()) {
      String url = server.getJdbcUrl("postgres", "postgres");
      try (Connection connection = DriverManager.getConnection(url);
          Warehouse warehouse =
              Warehouses.open(
                  new DatabaseSettings(
                      url.replaceAll("\\?.*", ""), Optional.of("postgres"), Optional.empty()))) {
        execute(connection, "create schema bench");
        execute(connection, "create table bench.docket (" + BenchData.COLUMNS + ")");
        execute(
            connection,
            "create table bench.docket_traced ("
                + BenchData.COLUMNS
                + ", dusky_load bigint not null, dusky_file bigint not null, dusky_row bigint not null)");
        warehouse.ledger().prepare();
        Turns turns = new Turns(2, 7);
        Turns.Work reset =
            () -> {
              execute(connection, "truncate bench.docket, bench.docket_traced");
              execute(connection, "checkpoint");
            };
        turns.compare(
            "dusky load",
            () -> load(warehouse, TABLE),
            "driver's COPY, format csv",
            () -> copy(connection),
            reset);
        turns.compare(
            "dusky load with provenance columns",
            () -> load(warehouse, TRACED),
            "driver's COPY, format csv",
            () -> copy(connection),
            reset);
      }
    }
  }

  private void load(Warehouse warehouse, TableName table) {
    long loaded = BenchFeed.load(warehouse, file, table, "bench" + ++turn).tally().loaded();
    if (loaded != rows) {
      throw new IllegalStateException("dusky loaded " + loaded + " rows, not " + rows);
    }
  }

  private void copy(Connection connection) throws Exception {
    try (InputStream in = Files.newInputStream(file)) {
      long loaded =
          connection
              .unwrap(PGConnection.class)
              .getCopyAPI()
              .copyIn("copy bench.docket from stdin (format csv, header)", in, 64 << 10);
      if (loaded != rows) {
        throw new IllegalStateException("COPY loaded " + loaded + " rows, not " + rows);
      }
    }
  }

  private static void execute(Connection connection, String sql) throws Exception {
    try (Statement statement = connection.createStatement()) {
      statement.execute(sql);
    }
  }
}
