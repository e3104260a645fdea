package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.Statement;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;

/** Processes of the program on one real PostgreSQL, with a database and a folder for each test. */
abstract class ProcessTesting {

  static EmbeddedPostgres server;
  private static int databases;

  @TempDir Path folder;
  String database;
  Program dusky;
  private Connection asking;

  @BeforeAll
  static void startServer() throws IOException {
    server = EmbeddedPostgres.start();
  }

  @AfterAll
  static void stopServer() throws IOException {
    server.close();
  }

  @BeforeEach
  void configure() throws Exception {
    database = "test" + ++databases;
    try (Connection admin = connect("postgres");
        Statement statement = admin.createStatement()) {
      statement.execute("create database " + database);
    }
    dusky = new Program(folder).file("dusky.yaml", config("postgresql"));
  }

  @AfterEach
  void askNoMore() throws Exception {
    if (asking != null) {
      asking.close();
    }
  }

  static Connection connect(String name) throws Exception {
    return DriverManager.getConnection(server.getJdbcUrl("postgres", name));
  }

  final String config(String kind) {
    String warehouse =
        kind.equals("h2")
            ? "jdbc:h2:file:./warehouse"
            : "{ url: \"jdbc:postgresql://localhost:%d/%s\", user: postgres }"
                .formatted(server.getPort(), database);
    return CommandsIT.CONFIG.replace("jdbc:h2:file:./warehouse", warehouse);
  }

  final void writeFiles(int files, int rows) throws IOException {
    for (int f = 0; f < files; f++) {
      StringBuilder text = new StringBuilder(CommandsIT.HEADER);
      for (int r = 0; r < rows; r++) {
        text.append(f * 1_000_000L + r).append(",WF").append(r % 999);
        text.append(",02/03/2026 05:46,").append(f).append(".5\n");
      }
      dusky.file("intake/f%03d.csv".formatted(f), text.toString());
    }
  }

  final long ask(String sql) throws Exception {
    if (asking == null) {
      asking = connect(database);
    }
    try (Statement statement = asking.createStatement();
        ResultSet row = statement.executeQuery(sql)) {
      row.next();
      return row.getLong(1);
    }
  }

  final void assertEachFileOnce(int files, int rows) throws Exception {
    assertEquals((long) files * rows, ask("select count(*) from intake.collection"));
    assertEquals(
        (long) files * rows, ask("select count(distinct docket_no) from intake.collection"));
    assertEquals(files, ask("select count(*) from dusky.file where state = 'posted'"));
    dusky.run("balance").expect(0);
  }

  private static final String MERGES =
      """
      merges:
        collection:
          from: intake.collection
          into: dairy.collection
          create: true
          key: docket_no
          latest-by: collected_at
          totals: [litres]
      """;

  final void landForMerging(int rows) throws Exception {
    dusky.file(
        "dusky.yaml",
        config("postgresql").replace("tolerance: 1", "tolerance: 1\n    totals: [litres]")
            + MERGES);
    writeFiles(2, rows);
    dusky.run("load").expect(0);
  }
}
