package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.tally.Tally;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Rows that a database itself refuses are rejects like any other, exactly those and no more. */
abstract class RefusalContract extends WarehouseTesting {

  @BeforeEach
  void tables() {
    execute("create schema if not exists intake");
    execute("create schema if not exists dairy");
    execute("create table if not exists dairy.farm (code varchar(8) primary key)");
    execute(
        "insert into dairy.farm select v.code from (values ('WF1'), ('WF2')) v(code)"
            + " where not exists (select 1 from dairy.farm f where f.code = v.code)");
  }

  static final String PROVENANCE =
      ", dusky_load bigint not null, dusky_file bigint not null, dusky_row bigint not null)";

  final Feed feed(String name, String tolerance) {
    return new FeedBuilder(name)
        .column("no", "bigint")
        .column("farm", "varchar(8)")
        .column("litres", "integer")
        .tolerance(tolerance)
        .existing()
        .build();
  }

  private void guarded(String name) {
    execute("drop table if exists intake." + name);
    execute(
        "create table intake."
            + name
            + " (no bigint primary key, farm varchar(8) references dairy.farm, litres integer"
            + " check (litres > 0)"
            + PROVENANCE);
  }

  /** Each problem as record, code and column. */
  final List<String> problems(String feed) {
    return problems(feed, "a.csv");
  }

  final List<String> problems(String feed, String path) {
    return query(
            "select record_number, code, column_name from dusky.reject_detail where feed = '"
                + feed
                + "' and path = '"
                + path
                + "' order by record_number, column_name, code")
        .stream()
        .map(row -> row.get(0) + " " + row.get(1) + " " + row.get(2))
        .toList();
  }

  private static final String DIRTY =
      "no,farm,litres\n1,WF1,5\n2,XX,5\n3,WF2,-1\n1,WF1,7\n,WF1,3\n4,WF2,9\n5,XX,0\nx,WF1,1\n";

  private static final List<String> EXPECTED =
      List.of(
          "2 unknown-key farm",
          "3 failed-constraint litres",
          "4 key-taken no",
          "5 null-value no",
          "7 unknown-key farm",
          "7 failed-constraint litres",
          "8 bad-number no");

  @Test
  void everyRefusedRowIsARejectWithAllItsReasonsAndTheRestIsPosted() {
    guarded("refused");
    LoadResult result = load(feed("refused", "any"), new MemoryDepot().with("a.csv", DIRTY));
    assertEquals(Tally.posted(8, 2, 6, 0), result.tally());
    assertEquals(
        List.of(List.<Object>of(1L, 1L), List.<Object>of(4L, 6L)),
        query("select no, dusky_row from intake.refused order by no"));
    assertEquals(
        EXPECTED.stream().sorted().toList(), problems("refused").stream().sorted().toList());
    List<Object> taken =
        query(
                "select message, raw_value, line_number from dusky.reject_detail"
                    + " where feed = 'refused' and code = 'key-taken'")
            .get(0);
    assertEquals("'1' is in the table already: record 1 of this file has it", taken.get(0));
    assertEquals("1", taken.get(1));
    assertEquals(5L, taken.get(2));
    assertEquals(
        "1,WF1,7",
        new String(
            rejects("refused").stream()
                .filter(r -> r.reject().problems().get(0).code() == RejectCode.KEY_TAKEN)
                .findFirst()
                .orElseThrow()
                .reject()
                .raw()));
  }

  @Test
  void beyondToleranceNothingStaysAndAllRefusalsAreTold() {
    guarded("beyond");
    LoadResult result = load(feed("beyond", "5"), new MemoryDepot().with("a.csv", DIRTY));
    assertEquals(1, result.count(FileState.REFUSED));
    assertEquals(new Tally(8, 0, 0, 6, 0, 2), result.refused());
    assertEquals(0, count("intake.beyond"));
    assertEquals(7, problems("beyond").size());
  }

  @Test
  void keysOfEarlierFilesAreTakenAndTheirHolderIsNamed() {
    guarded("earlier");
    MemoryDepot depot = new MemoryDepot().with("a.csv", "no,farm,litres\n1,WF1,5\n2,WF1,5\n");
    load(feed("earlier", "any"), depot);
    depot.with("b.csv", "no,farm,litres\n2,WF2,8\n3,WF1,5\n");
    assertEquals(Tally.posted(2, 1, 1, 0), load(feed("earlier", "any"), depot).tally());
    assertEquals(
        "'2' is in the table already: record 2 of a.csv has it",
        query("select message from dusky.reject_detail where feed = 'earlier'").get(0).get(0));
  }

  @Test
  void aTableWithoutProvenanceIsTreatedTheSame() {
    execute("drop table if exists intake.bare");
    execute(
        "create table intake.bare (no bigint primary key, farm varchar(8) references dairy.farm,"
            + " litres integer check (litres > 0))");
    LoadResult result = load(feed("bare", "any"), new MemoryDepot().with("a.csv", DIRTY));
    assertEquals(Tally.posted(8, 2, 6, 0), result.tally());
    assertEquals(
        List.of(List.<Object>of(1L), List.<Object>of(4L)),
        query("select no from intake.bare order by no"));
  }

  @Test
  void manyScatteredRefusalsAreFoundExactly() {
    guarded("scattered");
    StringBuilder text = new StringBuilder("no,farm,litres\n");
    int bad = 0;
    for (int i = 1; i <= 150_000; i++) {
      boolean unknown = i % 997 == 0;
      boolean taken = i % 1009 == 0 && !unknown;
      bad += unknown || taken ? 1 : 0;
      text.append(taken ? 1 : i).append(unknown ? ",XX" : ",WF1").append(",7\n");
    }
    LoadResult result =
        load(feed("scattered", "any"), new MemoryDepot().with("a.csv", text.toString()));
    assertEquals(Tally.posted(150_000, 150_000 - bad, bad, 0), result.tally());
    assertEquals(150_000 - bad, count("intake.scattered"));
    assertEquals(
        0L,
        query(
                "select count(*) from dusky.reject where file_id in (select file_id from"
                    + " dusky.file where feed = 'scattered') and mod(record_number, 997) <> 0"
                    + " and mod(record_number, 1009) <> 0")
            .get(0)
            .get(0));
    assertTrue(
        query("select count(*) from intake.scattered where dusky_row <> no")
            .get(0)
            .get(0)
            .equals(0L));
  }
}
