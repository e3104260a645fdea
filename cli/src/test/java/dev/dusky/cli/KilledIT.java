package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.cli.Program.Run;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;

/** Processes that are killed or stopped leave nothing half done. */
class KilledIT extends ProcessTesting {

  /** Kills a load as soon as that many files are posted, whatever it is doing. */
  private void killWhenPosted(int posted) throws Exception {
    Process process = dusky.start("load");
    while (process.isAlive()
        && (ask("select count(*) from pg_class where relname = 'tally'") == 0
            || ask("select count(*) from dusky.tally") < posted)) {
      process.waitFor(2, TimeUnit.MILLISECONDS);
    }
    process.destroyForcibly().waitFor();
  }

  @Test
  void aKilledProcessOnPostgresLeavesNothingHalfDone() throws Exception {
    writeFiles(12, 8_000);
    dusky.run("journal").expect(0);
    for (int posted : new int[] {0, 2, 7}) {
      killWhenPosted(posted);
      assertEquals(
          ask("select coalesce(sum(loaded_rows), 0) from dusky.tally"),
          ask(
              "select case when to_regclass('intake.collection') is null then 0 else (xpath('/row/c/text()',"
                  + " query_to_xml('select count(*) as c from intake.collection', false, true, '')))"
                  + "[1]::text::bigint end"));
    }
    dusky.run("load").expect(0);
    assertEachFileOnce(12, 8_000);
    Run journal = dusky.run("journal").expect(0);
    assertTrue(journal.out().contains("interrupted"), journal.out());
    assertTrue(journal.out().contains("its process ended without finishing it"), journal.out());
  }

  @Test
  void aKilledProcessOnH2LeavesNothingHalfDone() throws Exception {
    dusky.file("dusky.yaml", config("h2"));
    writeFiles(12, 6_000);
    for (int i = 0; i < 2; i++) {
      Process process = dusky.start("load");
      long grown = 1 + i * 800_000L; // the first one dies while it makes the ledger
      Path file = folder.resolve("warehouse.mv.db");
      while (process.isAlive() && (!Files.exists(file) || Files.size(file) < grown)) {
        process.waitFor(2, TimeUnit.MILLISECONDS);
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
    assertEquals("{\"n\":72000,\"d\":72000}", count.out().strip());
    dusky.run("balance").expect(0);
    assertTrue(dusky.run("journal").expect(0).out().contains("interrupted"));
  }

  @Test
  void aStoppedProcessClosesItsLoad() throws Exception {
    writeFiles(12, 8_000);
    dusky.run("journal").expect(0);
    Process process = dusky.start("load");
    while (process.isAlive() && ask("select count(*) from dusky.tally") < 2) {
      process.waitFor(2, TimeUnit.MILLISECONDS);
    }
    process.destroy(); // SIGTERM
    assertEquals(130, process.waitFor());
    assertEquals(1, ask("select count(*) from dusky.load where state = 'interrupted'"));
    dusky.run("load").expect(0);
    assertEachFileOnce(12, 8_000);
  }

  @Test
  void aKilledMergeIsWhollyDoneOrNotAtAll() throws Exception {
    landForMerging(25_000);
    dusky.run("sql", "create schema dairy").expect(0);
    dusky
        .run(
            "sql",
            "create table dairy.collection (docket_no bigint primary key, farm_code varchar(8),"
                + " collected_at timestamp, litres decimal(9,1))")
        .expect(0);
    for (String step : List.of("create temporary table dusky_batch%", "insert into \"dairy\"%")) {
      Process process = dusky.start("merge");
      while (process.isAlive()
          && ask(
                  "select count(*) from pg_stat_activity where datname = '%s' and state = 'active' and query like '%s'"
                      .formatted(database, step))
              == 0) {
        process.waitFor(2, TimeUnit.MILLISECONDS);
      }
      process.destroyForcibly().waitFor();
      long merged =
          ask("select coalesce(sum(inserted_rows), 0) from dusky.merge_run where state = 'done'");
      assertEquals(merged, ask("select count(*) from dairy.collection"));
    }
    dusky.run("merge").expect(0);
    assertEquals(50_000, ask("select count(*) from dairy.collection"));
    dusky.run("merge").expect(0);
    dusky.run("balance").expect(0);
    Run journal =
        dusky.run("journal", "collection", "--json", "--table", "dairy.collection").expect(0);
    assertTrue(journal.out().contains("\"inserted\":50000"), journal.out());
  }
}
