package dev.dusky.bench;

import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.EngineSettings;
import dev.dusky.core.warehouse.LakeSettings;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.warehouse.Warehouses;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import java.util.stream.Stream;

/** Tables in a folder with their ledger in a PostgreSQL, and the same database as a warehouse. */
final class BenchLake implements AutoCloseable {

  private final Path folder;
  private final EmbeddedPostgres server;
  private final Warehouse database;
  private final Warehouse tables;

  /** Starts the server; an engine is declared and starts when it is used. */
  BenchLake() throws IOException {
    folder = Files.createTempDirectory("dusky-bench-tables-");
    server = EmbeddedPostgres.start();
    DatabaseSettings settings =
        new DatabaseSettings(
            server.getJdbcUrl("postgres", "postgres").replaceAll("\\?.*", ""),
            Optional.of("postgres"),
            Optional.empty());
    database = Warehouses.open(settings);
    tables =
        Warehouses.open(
            new LakeSettings(
                "file:" + folder,
                Optional.empty(),
                settings,
                Optional.of(EngineSettings.at("local[2]")),
                Optional.empty()));
    database.ledger().prepare();
  }

  /** The tables in the folder. */
  Warehouse tables() {
    return tables;
  }

  /** The database. */
  Warehouse database() {
    return database;
  }

  /** The folder of the tables. */
  Path folder() {
    return folder;
  }

  @Override
  public void close() throws IOException {
    tables.close();
    database.close();
    server.close();
    try (Stream<Path> all = Files.walk(folder)) {
      for (Path path : all.sorted((a, b) -> b.compareTo(a)).toList()) {
        Files.delete(path);
      }
    }
  }
}
