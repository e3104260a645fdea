package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.cli.Program.Run;
import java.io.IOException;
import org.junit.jupiter.api.Test;

/**
 * Loads of the built program that replace a table, on a real PostgreSQL, and what a kill leaves.
 */
class ReplacingIT extends ProcessTesting {

  private void configure(String mode) throws IOException {
    dusky.file(
        "dusky.yaml",
        config("postgresql")
            .replaceFirst("(?s)feeds:.*", "")
            .concat(
                """
                feeds:
                  prices:
                    depot: yard
                    files: "prices/{day:date}/*.csv"
                    layout: { kind: delimited }
                    into: intake.price
                    create: true
                    mode:
                      replace: %s
                    columns: { grade: integer not null, price: "decimal(9,2)" }
                """
                    .formatted(mode)));
  }

  private void prices(String day, int rows) throws IOException {
    StringBuilder text = new StringBuilder("grade,price\n");
    for (int i = 0; i < rows; i++) {
      text.append(i).append(',').append(day.substring(8)).append(".25\n");
    }
    dusky.file("intake/prices/" + day + "/p.csv", text.toString());
  }

  private long rows(String where) throws Exception {
    return ask("select count(*) from intake.price where " + where);
  }

  @Test
  void aReplacementIsRehearsedLoadedShownAndReversed() throws Exception {
    configure("all");
    Program within = Program.within(folder);
    prices("2026-03-01", 100);
    within.run("load").expect(0);
    prices("2026-03-02", 90);
    Run rehearsed = within.run("rehearse").expect(0);
    assertTrue(rehearsed.out().contains("it would replace 100 rows of 1 file"), rehearsed.out());
    Run load = within.run("load").expect(0);
    assertTrue(load.out().contains("it replaced 100 rows of 1 file; dusky reverse 2"), load.out());
    assertEquals(90, rows("price = 2.25"));
    Run journal = within.run("journal").expect(0);
    assertTrue(journal.out().contains("load 3: replaced by load 2"), journal.out());
    prices("2026-03-03", 10);
    Run small = within.run("load").expect(1);
    assertTrue(small.out().contains("would shrink from 90 to 10 rows"), small.out());
    prices("2026-03-03", 95);
    dusky.file("intake/prices/2026-03-04/bad.csv", "grade,price\nx,1\n");
    Run bad = within.run("load").expect(1);
    assertTrue(bad.out().contains("the load replaces all or nothing"), bad.out());
    assertEquals(90, rows("price = 2.25"));
    within.run("balance").expect(0);
    Run back = within.run("reverse", "2").expect(0);
    assertTrue(back.out().contains("100 rows are back that the load had replaced"), back.out());
    assertEquals(100, rows("price = 1.25"));
    within.run("balance").expect(0);
    Run files = within.run("files", "prices").expect(0);
    assertTrue(files.out().contains("1 posted, 2 refused, 1 reversed"), files.out());
  }

  @Test
  void aKilledReplacementLeavesTheOldContent() throws Exception {
    configure("by {day}");
    prices("2026-03-01", 1000);
    prices("2026-03-02", 1000);
    dusky.run("load").expect(0);
    dusky.file("intake/prices/2026-03-02/p.csv", "grade,price\n" + "7,9.75\n".repeat(200_000));
    Process process = dusky.start("load");
    while (ask("select count(*) from pg_stat_progress_copy where tuples_processed > 20000") == 0) {
      assertTrue(process.isAlive(), "it ended before it was killed");
    }
    process.destroyForcibly().waitFor();
    while (ask("select count(*) from pg_stat_activity where query like 'copy %'") > 1) {
      Thread.onSpinWait(); // the server has not noticed yet
    }
    assertEquals(2000, rows("price < 9"));
    assertEquals(2000, rows("true"));
    Run load = dusky.run("load").expect(0);
    assertTrue(load.out().contains("it replaced 1 000 rows of 1 file"), load.out());
    assertEquals(1000, rows("price = 1.25"));
    assertEquals(200_000, rows("price = 9.75"));
    dusky.run("balance").expect(0);
    assertEquals(
        1,
        ask(
            "select count(*) from information_schema.tables where table_schema = 'dusky'"
                + " and table_name like 'before%'"),
        "what the killed load had set aside is gone");
  }
}
