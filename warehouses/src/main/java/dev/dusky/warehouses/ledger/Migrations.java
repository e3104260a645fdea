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
      List.of(
          new Step(1, "loads, files, tallies, rejects, merges, drift"),
          new Step(2, "loads that replace, sources"),
          new Step(3, "what loads and merges use"),
          new Step(4, "null counts"),
          new Step(5, "tables that are tidied"),
          new Step(6, "changes of tables that a catalog service has"));

  /** A check as step 1 made it, under a name that the database chose. */
  private static final String CHECK =
      """
      select t.constraint_name from information_schema.table_constraints t
      join information_schema.check_constraints c on c.constraint_schema = t.constraint_schema
        and c.constraint_name = t.constraint_name
      where t.table_schema = 'dusky' and t.table_name = '%s'
        and c.check_clause like '%%%s%%' and c.check_clause not like '%%replace%%'""";

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
        Arrays.stream(script(connection, step).split(";\\s*\\n"))
            .filter(sql -> !sql.isBlank())
            .toList();
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

  /** The statement that drops a check of step 1; one without effect if it is dropped already. */
  private static String drop(Connection connection, Step step, String table, String word)
      throws SQLException {
    if (step.version() < 2) {
      return "";
    }
    try (Statement statement = connection.createStatement();
        ResultSet row = statement.executeQuery(CHECK.formatted(table, word))) {
      return row.next()
          ? "alter table dusky.%s drop constraint \"%s\";".formatted(table, row.getString(1))
          : "select 1;"; // so that the number of statements stays the same
    }
  }

  private String script(Connection connection, Step step) throws SQLException {
    String name = "ledger-%03d.sql".formatted(step.version());
    try (InputStream in = Migrations.class.getResourceAsStream(name)) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8)
          .replace("${dropFileStates}", drop(connection, step, "file", "missing"))
          .replace("${dropLoadKinds}", drop(connection, step, "load", "promote"))
          .replace("${bytes}", dialect.bytesType())
          .replace("${text}", dialect.textType())
          .replace("${livePosting}", dialect.livePosting())
          .replace("${pathIndex}", dialect.pathIndex());
    } catch (IOException e) {
      throw new UncheckedIOException("the program's own file " + name + " is unreadable", e);
    }
  }
}
