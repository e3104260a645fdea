package dev.dusky.warehouses;

import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Timestamp;
import java.time.Instant;
import java.util.List;

/** Makes the ledger's schema and brings it up to date, version by version. */
final class Migrations {

  /** A step: its resource is {@code ledger-NNN.sql}. */
  private record Step(int version, String description) {}

  private static final List<Step> STEPS =
      List.of(new Step(1, "loads, files, tallies and rejects"), new Step(2, "places of rejects"));

  private final Dialect dialect;

  Migrations(Dialect dialect) {
    this.dialect = dialect;
  }

  /** Applies what is missing, in the connection's transaction. */
  void apply(Connection connection) throws SQLException {
    if (isCurrent(connection)) {
      return;
    }
    dialect.serialiseMigrations(connection);
    int version = version(connection);
    if (version > STEPS.get(STEPS.size() - 1).version()) {
      throw Failure.warehouse("The ledger in this warehouse is of version " + version)
          .because("this program knows versions up to " + STEPS.get(STEPS.size() - 1).version())
          .next("Use the newer program that made it");
    }
    for (Step step : STEPS) {
      if (step.version() > version) {
        apply(connection, step);
      }
    }
  }

  private static boolean isCurrent(Connection connection) throws SQLException {
    return version(connection) == STEPS.get(STEPS.size() - 1).version();
  }

  private static int version(Connection connection) throws SQLException {
    String exists =
        "select count(*) from information_schema.tables"
            + " where table_schema = 'dusky' and table_name = 'migration'";
    try (Statement statement = connection.createStatement()) {
      try (ResultSet row = statement.executeQuery(exists)) {
        row.next();
        if (row.getInt(1) == 0) {
          return 0;
        }
      }
      try (ResultSet row =
          statement.executeQuery("select coalesce(max(version), 0) from dusky.migration")) {
        row.next();
        return row.getInt(1);
      }
    }
  }

  private void apply(Connection connection, Step step) throws SQLException {
    try (Statement statement = connection.createStatement()) {
      for (String sql : script(step).split(";\\s*\\n")) {
        if (!sql.isBlank()) {
          statement.execute(sql);
        }
      }
    }
    try (PreparedStatement insert =
        connection.prepareStatement("insert into dusky.migration values (?, ?, ?)")) {
      insert.setInt(1, step.version());
      insert.setString(2, step.description());
      insert.setTimestamp(3, Timestamp.from(Instant.now()));
      insert.executeUpdate();
    }
  }

  private String script(Step step) {
    String name = "ledger-%03d.sql".formatted(step.version());
    try (InputStream in = Migrations.class.getResourceAsStream(name)) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8)
          .replace("${bytes}", dialect.bytesType())
          .replace("${text}", dialect.textType());
    } catch (IOException e) {
      throw new UncheckedIOException("the program's own file " + name + " is unreadable", e);
    }
  }
}
