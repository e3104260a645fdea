package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.cli.Program.Run;
import dev.dusky.standin.StandIn;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Several processes beside each other, on a real PostgreSQL and on H2. */
class ProcessesIT extends ProcessTesting {

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

  /** What a command says, without what differs from run to run. */
  private static String lasting(String text) {
    return text.replaceAll("\\d+\\.\\d s", "TIME")
        .replaceAll("[\\d.]+ [kM]? ?rows/s", "SPEED")
        .replaceAll("\\d{4}-\\d\\d-\\d\\d \\d\\d:\\d\\d(:\\d\\d)?", "MOMENT")
        .replaceAll(" +", " ");
  }

  @Test
  void whatIsWrittenIsTheSameInEveryLocaleAndZone() throws Exception {
    List<String> told = new ArrayList<>();
    for (String language : List.of("en", "ar")) {
      Path home = Files.createDirectories(folder.resolve(language));
      Program speaking =
          new Program(home)
              .javaOptions(
                  "-Xmx256m",
                  "-Duser.language=" + language,
                  "-Duser.country=EG",
                  "-Duser.timezone=" + (language.equals("ar") ? "Africa/Cairo" : "UTC"))
              .file("dusky.yaml", config("h2"))
              .file(
                  "intake/a.csv",
                  CommandsIT.HEADER
                      + "1,WF1,02/03/2026 05:46,1234.5\n2,WF2,02/03/2026 05:46,spilt\n");
      StringBuilder text = new StringBuilder();
      text.append(speaking.run("load").all());
      String moment =
          "select cast(collected_at as timestamp with time zone) as m from intake.collection";
      text.append(speaking.run("sql", "--json", moment).all());
      told.add(lasting(text.toString()));
    }
    assertTrue(told.get(0).contains("rejected 1"), told.get(0));
    assertEquals(told.get(0), told.get(1));
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
  void theDemoShowsEveryFeatureAndLeavesAFolderToPlayIn() throws Exception {
    Run demo =
        dusky
            .run(
                "demo",
                "--all",
                "story",
                "--warehouse",
                "jdbc:postgresql://localhost:%d/%s".formatted(server.getPort(), database),
                "--user",
                "postgres")
            .expect(0);
    assertEquals(24_724, ask("select count(*) from intake.collections"));
    for (String part :
        List.of(
            "everything passed",
            "18 staged",
            "12 waiting",
            "wrote 2 feeds into dusky.yaml",
            "wrote 5 feeds into dusky.yaml",
            "assays_results  read 4 309 = loaded 4 309 + duplicate 0 + rejected 0 + filtered 0",
            "read 24 613 = loaded 22 618 + duplicate 1 979 + rejected 16 + filtered 0   balanced",
            "farms  read 380 = loaded 380",
            "prices_history  read 130 = loaded 130",
            "prices  read 5 = loaded 5",
            "tankers  read 24 = loaded 24",
            "16 problems in ",
            "would be posted    deliveries/2026-03-04.csv  read 419 = loaded 400 + duplicate 0 + rejected 19",
            "ledger 416 (400 loaded + 16 mended), table 416",
            "tallies 19, recorded 19 = open 0 + mended 16 + waived 3",
            "63 rows removed, 1 file waits to be loaded again",
            "nothing to load; 12 files are settled already",
            "load 8: files 1 posted, 12 settled before",
            "readings/readings-2025-0002.csv.zst",
            "readings  read 60 000 = loaded 60 000",
            "2 500 records in 1 file",
            "scales  read 2 500 = loaded 2 500",
            "the ledger balances",
            "demo --serve ")) {
      assertTrue(demo.out().contains(part), () -> part + " is missing in\n" + demo.out());
    }
    assertEquals("", demo.err());
    assertFalse(
        demo.out().contains(Files.readString(folder.resolve("story/yard.secret"))), "a secret");
    Run journal = Program.within(folder.resolve("story")).run("journal", "collections").expect(0);
    assertTrue(journal.out().contains("24 613"), journal.out());
    dusky.run("demo", "story").expect(2);
  }
}
