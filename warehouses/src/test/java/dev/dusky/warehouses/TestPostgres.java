package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;

/** One real PostgreSQL server for all tests of the module; its own database for each class. */
final class TestPostgres {

  private static final AtomicInteger DATABASES = new AtomicInteger();
  private static EmbeddedPostgres server;

  private TestPostgres() {}

  static synchronized EmbeddedPostgres server() {
    if (server == null) {
      try {
        server = EmbeddedPostgres.start();
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }
    return server;
  }

  static DatabaseSettings newDatabase() throws SQLException {
    String name = "test" + DATABASES.incrementAndGet();
    String admin = server().getJdbcUrl("postgres", "postgres");
    try (Connection connection = DriverManager.getConnection(admin);
        Statement statement = connection.createStatement()) {
      statement.execute("create database " + name);
    }
    return new DatabaseSettings(
        "jdbc:postgresql://localhost:" + server().getPort() + "/" + name,
        Optional.of("postgres"),
        Optional.empty());
  }
}
