package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.cli.Program.Run;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Merges as a person meets them: the built program against H2. */
class MergingIT {

  private static final String CONFIG =
      """
      warehouse: jdbc:h2:file:./warehouse
      depots: { yard: "file:./intake" }
      feeds:
        farms:
          depot: yard
          files: "farms/*.csv"
          layout: { kind: delimited, nulls: [""] }
          into: intake.farm
          create: true
          columns: { farm_code: varchar(8) not null, name: varchar(20), as_of: date }
        dockets:
          depot: yard
          files: "dockets/*.csv"
          layout: { kind: delimited }
          into: intake.docket
          create: true
          totals: [litres]
          repeats: row
          columns: { docket_no: bigint not null, farm_code: varchar(8), litres: "decimal(9,1)" }
      merges:
        farm:
          from: intake.farm
          into: dairy.farm
          create: true
          key: farm_code
          surrogate: farm_id
          existing: history
          history: { at: as_of }
        docket:
          from: intake.docket
          into: dairy.docket
          create: true
          key: docket_no
          lookups:
            farm_id: { in: dairy.farm, key: farm_code }
          totals: [litres]
      """;

  @TempDir Path folder;
  private Program dusky;

  @BeforeEach
  void land() throws IOException {
    dusky = Program.within(folder).file("dusky.yaml", CONFIG);
    Files.createDirectories(folder.resolve("intake/farms"));
    Files.createDirectories(folder.resolve("intake/dockets"));
    dusky.file(
        "intake/farms/1.csv",
        "farm_code,name,as_of\nWF0001,Hollow Brook,2026-03-01\nWF0002,Amber Ridge,2026-03-01\n");
    dusky.file(
        "intake/dockets/1.csv",
        "docket_no,farm_code,litres\n1,WF0001,10.5\n1,WF0001,10.5\n2,WF0002,20.0\n3,WF0009,4.0\n");
  }

  private String json(String sql) throws Exception {
    return dusky.run("sql", "--json", sql).expect(0).out().strip();
  }

  @Test
  void rejectedRowsAreToldKeptAndTakenAgain() throws Exception {
    dusky.run("load").expect(0);
    Run merge = dusky.run("merge").expect(1);
    assertTrue(
        merge
            .out()
            .contains(
                "farm  landed 2 = inserted 2 + updated 0 + unchanged 0 + superseded 0 + deleted 0"
                    + " + rejected 0   balanced"),
        merge.out());
    assertTrue(
        merge.out().contains("rejected  1  unknown-key farm_id  for example docket_no 3"),
        merge.out());
    Run told = dusky.run("journal", "--merge", "2").expect(0);
    assertTrue(told.out().contains("dockets/1.csv"), told.out());
    assertTrue(told.out().contains("1 open; for example docket_no 3"), told.out());
    Run balance = dusky.run("balance", "docket").expect(0);
    assertTrue(
        balance.out().contains("files 45.0 = target 30.5 + duplicate 10.5 + rejected 4.0"),
        balance.out());
    dusky.file("intake/farms/2.csv", "farm_code,name,as_of\nWF0009,Late Weir,2026-03-02\n");
    dusky.run("load", "farms").expect(0);
    dusky.run("merge", "farm").expect(0);
    assertTrue(dusky.run("merge", "docket").expect(0).out().contains("nothing to merge"));
    dusky.run("merge", "docket", "--retry").expect(0);
    balance = dusky.run("balance", "docket").expect(0);
    assertTrue(balance.out().contains("files 45.0 = target 34.5 + duplicate 10.5"), balance.out());
    assertEquals("{\"n\":3}", json("select count(*) as n from dairy.docket"));
  }

  @Test
  void aRehearsalSaysWhatAMergeDoes() throws Exception {
    dusky.run("load", "farms").expect(0);
    Run early = dusky.run("merge", "farm", "--rehearse").expect(5);
    assertTrue(early.err().contains("create table \"dairy\".\"farm\""), early.err());
    dusky.run("merge", "farm").expect(0);
    dusky.file("intake/farms/2.csv", "farm_code,name,as_of\nWF0001,Hollow Weir,2026-03-05\n");
    dusky.run("load", "farms").expect(0);
    Run rehearsal = dusky.run("merge", "farm", "--rehearse").expect(0);
    assertTrue(rehearsal.out().contains("would be: intake.farm into dairy.farm"), rehearsal.out());
    assertTrue(rehearsal.out().contains("valid_to    null -> 2026-03-05"), rehearsal.out());
    assertTrue(rehearsal.out().contains("is_current  true -> false"), rehearsal.out());
    assertTrue(rehearsal.out().contains("new      farm_code WF0001"), rehearsal.out());
    Run machine = dusky.run("merge", "farm", "--rehearse", "--json").expect(0);
    assertEquals(3, machine.out().strip().lines().count(), machine.out());
    assertTrue(machine.out().contains("\"event\":\"rehearsed\""), machine.out());
    assertEquals("{\"n\":2}", json("select count(*) as n from dairy.farm"));
    dusky.run("merge", "farm").expect(0);
    assertEquals("{\"n\":3}", json("select count(*) as n from dairy.farm"));
  }

  @Test
  void theStatementsCanBeReadAndNothingRuns() throws Exception {
    dusky.run("load", "farms").expect(0);
    dusky.run("sql", "create schema dairy").expect(0);
    dusky
        .run(
            "sql",
            "create table dairy.farm (farm_id bigint generated by default as identity,"
                + " farm_code varchar(8), name varchar(20), valid_from date, valid_to date,"
                + " is_current boolean)")
        .expect(0);
    Run shown = dusky.run("merge", "farm", "--show-sql").expect(0);
    assertTrue(shown.out().contains("-- The events of each key in order of time"), shown.out());
    assertTrue(shown.out().contains("insert into \"dairy\".\"farm\""), shown.out());
    assertEquals("{\"n\":0}", json("select count(*) as n from dairy.farm"));
  }

  @Test
  void theProofFailsWhereTheTargetWasTouchedAndNamesTheRows() throws Exception {
    dusky.run("load").expect(0);
    dusky.run("merge").expect(1);
    dusky.run("balance").expect(0);
    dusky.run("sql", "update dairy.docket set litres = litres + 0.1 where docket_no = 2").expect(0);
    Run sums = dusky.run("balance", "docket").expect(6);
    assertTrue(sums.out().contains("litres   DISAGREE"), sums.out());
    dusky
        .run(
            "sql",
            "insert into dairy.farm (farm_code, name, valid_from, is_current)"
                + " values ('WF0001', 'Twice', date '2026-04-01', true)")
        .expect(0);
    Run chains = dusky.run("balance", "farm").expect(6);
    assertTrue(chains.out().contains("target   DISAGREE  ledger 2, table 3"), chains.out());
    assertTrue(
        chains.out().contains("overlap behind farm_code WF0001 from 2026-03-01"), chains.out());
    assertTrue(chains.out().contains("THE LEDGER DOES NOT BALANCE"), chains.out());
  }

  @Test
  void theJournalIsFilteredAndSaysWhatItCannotDo() throws Exception {
    dusky.run("load").expect(0);
    dusky.run("merge").expect(1);
    assertTrue(dusky.run("journal", "--table", "dairy.farm").expect(0).out().contains("merge 1"));
    Run landing = dusky.run("journal", "--table", "intake.docket").expect(0);
    assertTrue(
        landing.out().contains("merge 2") && landing.out().contains("load 2"), landing.out());
    assertFalse(landing.out().contains("merge 1"), landing.out());
    Run file = dusky.run("journal", "--file", "farms/1.csv", "--json").expect(0);
    assertEquals(2, file.out().strip().lines().count(), file.out());
    assertTrue(dusky.run("journal", "--day", "2001-01-01").expect(0).out().contains("no entries"));
    assertTrue(dusky.run("journal", "--state", "failed").expect(0).out().contains("no entries"));
    dusky.run("journal", "--state", "lost").expect(2);
    dusky.run("journal", "--day", "yesterday").expect(2);
    dusky.run("journal", "--merge", "77").expect(2);
    dusky.run("journal", "nobody").expect(2);
    dusky.run("merge", "nobody").expect(2);
    dusky.run("merge", "--changes", "0").expect(2);
  }

  @Test
  void mergedRowsAreReversedOnlyOnPurpose() throws Exception {
    dusky.run("load").expect(0);
    dusky.run("merge").expect(1);
    Run refused = dusky.run("reverse", "farms/1.csv").expect(5);
    assertTrue(refused.err().contains("2 of the rows are merged into dairy.farm"), refused.err());
    Run gone = dusky.run("reverse", "farms/1.csv", "--even-merged").expect(0);
    assertTrue(
        gone.out().contains("dairy.farm holds the result of merge 1 (farm) for 2 rows"),
        gone.out());
    Run balance = dusky.run("balance", "farm").expect(0);
    assertTrue(balance.out().contains("2 merged rows left the landing table since"), balance.out());
    dusky.run("load", "farms").expect(0);
    Run again = dusky.run("merge", "farm").expect(0);
    assertTrue(again.out().contains("unchanged 2"), again.out());
  }

  @Test
  void aFailedMergeIsInTheJournalAndChangesNothing() throws Exception {
    dusky.run("load").expect(0);
    dusky.run("sql", "create schema dairy").expect(0);
    dusky
        .run("sql", "create table dairy.farm (farm_code integer primary key, name varchar(3))")
        .expect(0);
    Run failed = dusky.run("merge", "farm").expect(5);
    assertTrue(
        failed.err().contains("alter table \"dairy\".\"farm\" add column \"valid_from\" date"),
        failed.err());
    Run journal = dusky.run("journal", "farm").expect(0);
    assertTrue(journal.out().contains("failed"), journal.out());
    assertTrue(
        journal.out().contains("the target lacks columns that the merge fills"), journal.out());
  }

  @Test
  void repeatsAndTwinsAreToldOnTheLine() throws Exception {
    dusky.file("intake/dockets/2.csv", Files.readString(folder.resolve("intake/dockets/1.csv")));
    dusky.file(
        "dusky.yaml",
        CONFIG.replace("          repeats: row\n", "").replace("    repeats: row\n", ""));
    Run load = dusky.run("load", "dockets").expect(0);
    assertTrue(
        load.out().contains("1 row is identical to another row of its file, and loaded"),
        load.out());
    assertTrue(load.out().contains("same content as dockets/1.csv"), load.out());
  }
}
