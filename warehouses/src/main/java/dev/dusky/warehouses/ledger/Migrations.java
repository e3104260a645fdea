package dev.dusky.warehouses.ledger;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.table.TableName;
import dev.dusky.warehouses.connection.Dialect;
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
import java.util.Arrays;
import java.util.List;

/** Makes the ledger's schema and brings it up to date, version by version. */
public final class Migrations {

  /** A step: its resource is {@code ledger-NNN.sql}. */
  private record Step(int version, String description) {}

  private static final List<Step> STEPS =
      List.of(new Step(1, "loads, files, tallies, rejects, merges, drift"));

  private static final TableName MIGRATION = new TableName("dusky", "migration");

  private final Dialect dialect;

  public Migrations(Dialect dialect) {
    this.dialect = dialect;
  }

  /** Applies what is missing, in the connection's transaction. */
  public void apply(Connection connection) throws SQLException {
    if (isCurrent(connection)) {
      return;
    }
    dialect.serialiseMigrations(connection);
    int version = version(connection);
    if (version > STEPS.get(STEPS.size() - 1).version()) {
      throw Failure.warehouse("The ledger in this warehouse is of version " + version)
          .because("this program knows versions up to " + STEPS.get(STEPS.size() - 1).version())
          .hint("Use the newer program that made it");
    }
    dialect.wholly(
        connection,
        () -> {
          for (Step step : STEPS) {
            if (step.version() > version) {
              apply(connection, step);
            }
          }
          connection.commit();
        });
  }

  private boolean isCurrent(Connection connection) throws SQLException {
    return version(connection) == STEPS.get(STEPS.size() - 1).version();
  }

  private int version(Connection connection) throws SQLException {
    if (!dialect.exists(connection, MIGRATION)) {
      return 0;
    }
    try (Statement statement = connection.createStatement()) {
      try (ResultSet row =
          statement.executeQuery("select coalesce(max(version), 0) from dusky.migration")) {
        row.next();
        return row.getInt(1);
      }
    }
  }

  private void apply(Connection connection, Step step) throws SQLException {
    List<String> statements =
        Arrays.stream(script(step).split(";\\s*\\n")).filter(sql -> !sql.isBlank()).toList();
    if (dialect.embedded()) {
      applyOneByOne(connection, step, statements);
    } else {
      for (String sql : statements) {
        apply(connection, sql);
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

  private static void apply(Connection connection, String sql) throws SQLException {
    try (Statement statement = connection.createStatement()) {
      statement.execute(sql);
    }
  }

  /**
   * Where each statement commits by itself, it is noted how far a step came, so that the next
   * process continues where one was killed. The one statement of which that is not sure may be done
   * already.
   */
  private void applyOneByOne(Connection connection, Step step, List<String> statements)
      throws SQLException {
    apply(connection, "create schema if not exists dusky");
    apply(
        connection,
        "create table if not exists dusky.migrating (version integer primary key, done integer)");
    int done = done(connection, step);
    for (int i = done; i < statements.size(); i++) {
      try {
        apply(connection, statements.get(i));
      } catch (SQLException e) {
        if (i > done || !dialect.doneAlready(e)) {
          throw e;
        }
      }
      apply(
          connection,
          "merge into dusky.migrating values (%d, %d)".formatted(step.version(), i + 1));
      connection.commit();
    }
  }

  private static int done(Connection connection, Step step) throws SQLException {
    try (Statement statement = connection.createStatement();
        ResultSet row =
            statement.executeQuery(
                "select done from dusky.migrating where version = " + step.version())) {
      return row.next() ? row.getInt(1) : 0;
    }
  }

  private String script(Step step) {
    String name = "ledger-%03d.sql".formatted(step.version());
    try (InputStream in = Migrations.class.getResourceAsStream(name)) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8)
          .replace("${bytes}", dialect.bytesType())
          .replace("${text}", dialect.textType())
          .replace("${livePosting}", dialect.livePosting())
          .replace("${pathIndex}", dialect.pathIndex());
    } catch (IOException e) {
      throw new UncheckedIOException("the program's own file " + name + " is unreadable", e);
    }
  }
}
