package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.cli.Program.Run;
import dev.dusky.standin.StandIn;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Several processes, and processes that are killed, against a real PostgreSQL and against H2. */
class ProcessesIT {

  private static EmbeddedPostgres server;
  private static int databases;

  @TempDir Path folder;
  private String database;
  private Program dusky;

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
    Files.createDirectories(folder.resolve("intake"));
  }

  private static Connection connect(String name) throws Exception {
    return DriverManager.getConnection(server.getJdbcUrl("postgres", name));
  }

  private String config(String kind) {
    String warehouse =
        kind.equals("h2")
            ? "jdbc:h2:file:./warehouse"
            : "{ url: \"jdbc:postgresql://localhost:%d/%s\", user: postgres }"
                .formatted(server.getPort(), database);
    return CommandsIT.CONFIG.replace("jdbc:h2:file:./warehouse", warehouse);
  }

  private void writeFiles(int files, int rows) throws IOException {
    for (int f = 0; f < files; f++) {
      StringBuilder text = new StringBuilder(CommandsIT.HEADER);
      for (int r = 0; r < rows; r++) {
        text.append(f * 1_000_000L + r).append(",WF").append(r % 999);
        text.append(",02/03/2026 05:46,").append(f).append(".5\n");
      }
      dusky.file("intake/f%03d.csv".formatted(f), text.toString());
    }
  }

  private long ask(String sql) throws Exception {
    try (Connection connection = connect(database);
        Statement statement = connection.createStatement();
        ResultSet row = statement.executeQuery(sql)) {
      row.next();
      return row.getLong(1);
    }
  }

  private void assertEachFileOnce(int files, int rows) throws Exception {
    assertEquals((long) files * rows, ask("select count(*) from intake.collection"));
    assertEquals(
        (long) files * rows, ask("select count(distinct docket_no) from intake.collection"));
    assertEquals(files, ask("select count(*) from dusky.file where state = 'posted'"));
    dusky.run("balance").expect(0);
  }

  @Test
  void twoProcessesOnPostgresPostEachFileOnce() throws Exception {
    writeFiles(30, 2_000);
    dusky.run("files").expect(0);
    List<Process> both = new ArrayList<>();
    for (int i = 0; i < 2; i++) {
      both.add(dusky.start("load"));
    }
    for (Process process : both) {
      assertEquals(0, process.waitFor());
    }
    dusky.run("load").expect(0);
    assertEachFileOnce(30, 2_000);
  }

  @Test
  void largeFilesFromAStoreThatBreaksOffAreReadByRanges() throws Exception {
    List<List<String>> lines = new ArrayList<>();
    for (int f = 0; f < 2; f++) {
      StringBuilder text = new StringBuilder("no,remark\n");
      for (int r = 0; r < 60_000; r++) {
        text.append(r % 20_000 == 19_999 ? "none" : f * 100_000 + r)
            .append(
                r % 7 == 0
                    ? ",\"cooled late,\n\"\"again\"\", as at the third farm of the second round that day\"\n"
                    : ",cooled as it should be at the third farm of the second round on that same day\n");
      }
      dusky.file("out/large%d.csv".formatted(f), text.toString());
      lines.add(text.toString().lines().toList());
    }
    Files.createDirectories(folder.resolve("buckets/intake"));
    try (StandIn store = StandIn.start(folder.resolve("buckets"), "key", "secret", 0)) {
      dusky
          .env("STORE_KEY", "key")
          .env("STORE_SECRET", "secret")
          .file(
              "dusky.yaml",
              """
              warehouse: { url: "jdbc:postgresql://localhost:%d/%s", user: postgres, connections: 2 }
              depots:
                yard: { at: "s3://intake", endpoint: "%s", access-key: env:STORE_KEY, secret-key: env:STORE_SECRET }
              layouts: { csv: { kind: delimited } }
              feeds:
                large:
                  depot: yard
                  files: "*.csv"
                  layout: csv
                  into: intake.large
                  create: true
                  tolerance: any
                  columns: { no: bigint not null, remark: text }
              """
                  .formatted(server.getPort(), database, store.endpoint()));
      dusky.run("stage", "yard", "out").expect(0);
      store.faults().cut(3, 700_000);
      dusky.run("load").expect(0);
      dusky.run("balance").expect(0);
    }
    assertEquals(2 * 59_997, ask("select count(*) from intake.large"));
    assertEquals(
        2 * 8_571,
        ask("select count(*) from intake.large where remark like E'%late,\\n\"again\", as%'"));
    try (Connection connection = connect(database);
        Statement statement = connection.createStatement();
        ResultSet row =
            statement.executeQuery(
                "select f.path, r.line_number, r.record_number from dusky.reject r join dusky.file f using (file_id) order by 1, 2")) {
      for (int reject = 0; reject < 6; reject++) {
        assertTrue(row.next());
        String line = lines.get(reject / 3).get((int) row.getLong(2) - 1);
        assertTrue(
            line.startsWith("none,"), row.getString(1) + " line " + row.getLong(2) + ": " + line);
        assertEquals(20_000L * (reject % 3 + 1), row.getLong(3));
      }
    }
  }

  @Test
  void twoProcessesOnOneEmbeddedDatabaseWaitForEachOther() throws Exception {
    dusky.file("dusky.yaml", config("h2"));
    writeFiles(10, 1_000);
    List<Process> both = new ArrayList<>();
    for (int i = 0; i < 2; i++) {
      both.add(dusky.start("load"));
    }
    for (Process process : both) {
      assertEquals(0, process.waitFor());
    }
    Run count = dusky.run("sql", "--json", "select count(*) as n from intake.collection").expect(0);
    assertEquals("{\"n\":10000}", count.out().strip());
    dusky.run("balance").expect(0);
  }

  /** Kills a load as soon as so many files are posted, with whatever it is doing then. */
  private void killWhenPosted(int posted) throws Exception {
    Process process = dusky.start("load");
    while (process.isAlive()
        && (ask("select count(*) from pg_class where relname = 'tally'") == 0
            || ask("select count(*) from dusky.tally") < posted)) {
      Thread.onSpinWait();
    }
    process.destroyForcibly().waitFor();
  }

  @Test
  void aKilledProcessOnPostgresLeavesNothingHalfDone() throws Exception {
    writeFiles(12, 20_000);
    dusky.run("journal").expect(0);
    for (int posted : new int[] {0, 2, 5, 8}) {
      killWhenPosted(posted);
      assertEquals(
          ask("select coalesce(sum(loaded_rows), 0) from dusky.tally"),
          ask(
              "select case when to_regclass('intake.collection') is null then 0 else (xpath('/row/c/text()',"
                  + " query_to_xml('select count(*) as c from intake.collection', false, true, '')))"
                  + "[1]::text::bigint end"));
    }
    dusky.run("load").expect(0);
    assertEachFileOnce(12, 20_000);
    Run journal = dusky.run("journal").expect(0);
    assertTrue(journal.out().contains("interrupted"), journal.out());
    assertTrue(journal.out().contains("its process ended without finishing it"), journal.out());
  }

  @Test
  void aKilledProcessOnH2LeavesNothingHalfDone() throws Exception {
    dusky.file("dusky.yaml", config("h2"));
    writeFiles(12, 10_000);
    for (int i = 0; i < 3; i++) {
      Process process = dusky.start("load");
      long grown = 1 + i * 1_200_000L; // the first one dies while it makes the ledger
      Path file = folder.resolve("warehouse.mv.db");
      while (process.isAlive() && (!Files.exists(file) || Files.size(file) < grown)) {
        Thread.onSpinWait();
      }
      process.destroyForcibly().waitFor();
    }
    dusky.run("load").expect(0);
    Run count =
        dusky
            .run(
                "sql",
                "--json",
                "select count(*) as n, count(distinct docket_no) as d from intake.collection")
            .expect(0);
    assertEquals("{\"n\":120000,\"d\":120000}", count.out().strip());
    dusky.run("balance").expect(0);
    assertTrue(dusky.run("journal").expect(0).out().contains("interrupted"));
  }

  @Test
  void aStoppedProcessClosesItsLoad() throws Exception {
    writeFiles(12, 20_000);
    dusky.run("journal").expect(0);
    Process process = dusky.start("load");
    while (process.isAlive() && ask("select count(*) from dusky.tally") < 2) {
      Thread.onSpinWait();
    }
    process.destroy(); // SIGTERM
    assertEquals(130, process.waitFor());
    assertEquals(1, ask("select count(*) from dusky.load where state = 'interrupted'"));
    dusky.run("load").expect(0);
    assertEachFileOnce(12, 20_000);
  }

  /** What a command says, without what differs from run to run. */
  private static String lasting(String text) {
    return text.replaceAll("\\d+\\.\\d s", "TIME")
        .replaceAll("[\\d.]+ [kM]? ?rows/s", "SPEED")
        .replaceAll("\\d{4}-\\d\\d-\\d\\d \\d\\d:\\d\\d(:\\d\\d)?", "MOMENT")
        .replaceAll(" +", " ");
  }

  @Test
  void whatIsWrittenIsTheSameInEveryLocale() throws Exception {
    List<String> told = new ArrayList<>();
    for (String language : List.of("en", "ar")) {
      Path home = Files.createDirectories(folder.resolve(language));
      Program speaking =
          new Program(home)
              .javaOptions("-Xmx256m", "-Duser.language=" + language, "-Duser.country=EG")
              .file("dusky.yaml", config("h2"))
              .file(
                  "intake/a.csv",
                  CommandsIT.HEADER
                      + "1,WF1,02/03/2026 05:46,1234.5\n2,WF2,02/03/2026 05:46,spilt\n");
      StringBuilder text = new StringBuilder();
      for (String command : List.of("load", "balance")) {
        text.append(speaking.run(command, "collections").all());
      }
      told.add(lasting(text.toString()));
    }
    assertTrue(told.get(0).contains("rejected 1"), told.get(0));
    assertEquals(told.get(0), told.get(1));
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

  private void landForMerging(int rows) throws Exception {
    dusky.file(
        "dusky.yaml",
        config("postgresql").replace("tolerance: 1", "tolerance: 1\n    totals: [litres]")
            + MERGES);
    writeFiles(2, rows);
    dusky.run("load").expect(0);
  }

  @Test
  void twoMergesIntoOneTargetTakeTurns() throws Exception {
    landForMerging(40_000);
    List<Process> both = new ArrayList<>();
    for (int i = 0; i < 2; i++) {
      both.add(dusky.start("merge"));
    }
    for (Process process : both) {
      assertEquals(0, process.waitFor());
    }
    assertEquals(80_000, ask("select count(*) from dairy.collection"));
    assertEquals(80_000, ask("select sum(inserted_rows) from dusky.merge_run"));
    dusky.run("balance").expect(0);
  }

  @Test
  void aKilledMergeIsWhollyDoneOrNotAtAll() throws Exception {
    landForMerging(60_000);
    dusky.run("sql", "create schema dairy").expect(0);
    dusky
        .run(
            "sql",
            "create table dairy.collection (docket_no bigint primary key, farm_code varchar(8),"
                + " collected_at timestamp, litres decimal(9,1))")
        .expect(0);
    for (String step : List.of("create temporary table dl_batch%", "insert into \"dairy\"%")) {
      Process process = dusky.start("merge");
      while (process.isAlive()
          && ask(
                  "select count(*) from pg_stat_activity where datname = '%s' and state = 'active' and query like '%s'"
                      .formatted(database, step))
              == 0) {
        Thread.onSpinWait();
      }
      process.destroyForcibly().waitFor();
      long merged =
          ask("select coalesce(sum(inserted_rows), 0) from dusky.merge_run where state = 'done'");
      assertEquals(merged, ask("select count(*) from dairy.collection"));
    }
    dusky.run("merge").expect(0);
    assertEquals(120_000, ask("select count(*) from dairy.collection"));
    dusky.run("merge").expect(0);
    dusky.run("balance").expect(0);
    Run journal =
        dusky.run("journal", "collection", "--json", "--table", "dairy.collection").expect(0);
    assertTrue(journal.out().contains("\"inserted\":120000"), journal.out());
  }

  @Test
  void theDemoRunsOnPostgresToo() throws Exception {
    Run demo =
        dusky.run(
            "demo",
            "story",
            "--warehouse",
            "jdbc:postgresql://localhost:%d/%s".formatted(server.getPort(), database),
            "--user",
            "postgres");
    demo.expect(0);
    assertTrue(demo.out().contains("the books balance"), demo.out());
    assertEquals(24_724, ask("select count(*) from intake.collections"));
  }
}
