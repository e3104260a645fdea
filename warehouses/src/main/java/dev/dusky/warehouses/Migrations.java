package dev.dusky.warehouses;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.warehouse.TableName;
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
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Makes the ledger's schema and brings it up to date, version by version. */
final class Migrations {

  /** A step: its resource is {@code ledger-NNN.sql}. */
  private record Step(int version, String description) {}

  private static final List<Step> STEPS =
      List.of(
          new Step(1, "loads, files, tallies and rejects"),
          new Step(2, "places of rejects"),
          new Step(3, "settled rejects, control totals, reversals"),
          new Step(4, "repeats, merges"),
          new Step(5, "arrivals, pauses, drift"),
          new Step(6, "one live posting for each file, checksums of entries"),
          new Step(7, "merge rejects are found by their row"));

  /** A statement of our own, for constraints that were given no name. */
  private static final Pattern DROP_CONSTRAINTS =
      Pattern.compile("^\\s*drop constraints of dusky\\.(\\w+)");

  private static final TableName MIGRATION = new TableName("dusky", "migration");

  private final Dialect dialect;

  Migrations(Dialect dialect) {
    this.dialect = dialect;
  }

  /** Applies what is missing, in the connection's transaction. */
  void apply(Connection connection) throws SQLException {
    apply(connection, STEPS.get(STEPS.size() - 1).version());
  }

  /** Applies what is missing up to a version. */
  void apply(Connection connection, int last) throws SQLException {
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
    dialect.wholly(
        connection,
        () -> {
          for (Step step : STEPS) {
            if (step.version() > version && step.version() <= last) {
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
    Matcher drop = DROP_CONSTRAINTS.matcher(sql);
    if (drop.find()) {
      dropConstraints(connection, drop.group(1));
      return;
    }
    try (Statement statement = connection.createStatement()) {
      statement.execute(sql);
    }
  }

  /**
   * Where each statement commits by itself, it is noted how far a step came, so that the next
   * process goes on where one was killed. The one statement of which that is not sure may be done
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

  private static void dropConstraints(Connection connection, String table) throws SQLException {
    String sql =
        "select constraint_name from information_schema.table_constraints"
            + " where table_schema = 'dusky' and table_name = ?"
            + " and constraint_name not like '%\\_not\\_null' order by constraint_type";
    List<String> names = new ArrayList<>();
    try (PreparedStatement query = connection.prepareStatement(sql)) {
      query.setString(1, table);
      try (ResultSet row = query.executeQuery()) {
        while (row.next()) {
          names.add(row.getString(1));
        }
      }
    }
    try (Statement statement = connection.createStatement()) {
      for (String name : names) {
        statement.execute(
            "alter table dusky.%s drop constraint %s".formatted(table, Identifiers.quote(name)));
      }
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
