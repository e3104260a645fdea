package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.balance.FeedProof;
import dev.dusky.core.drift.Drift;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.feed.DriftPolicy.Fields;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.ledger.DriftLine;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.Promoted;
import dev.dusky.core.load.FileResult;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.type.SqlType;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** Files change shape: columns come, go, and change their types. */
abstract class DriftContract extends WarehouseTesting {

  private static final String FIRST = "no,litres\n1,10.5\n";

  private static FeedBuilder milk(String name, Fields fields) {
    return milk(name, DriftPolicy.of(fields));
  }

  private static FeedBuilder milk(String name, DriftPolicy policy) {
    return new FeedBuilder(name)
        .column("no", "integer not null")
        .column("litres", "decimal(5,1)")
        .drift(policy);
  }

  private static FeedBuilder events(String name, Fields fields) {
    return new FeedBuilder(name)
        .column("no", "integer not null")
        .column("owner", "text")
        .from("no", "$.no")
        .from("owner", "$.farm.owner")
        .layout(JsonLayout.plain("lines"))
        .drift(DriftPolicy.of(fields));
  }

  private List<FileResult> results(Feed feed, MemoryDepot depot) {
    List<FileResult> results = new ArrayList<>();
    load(warehouse, feed, depot, results);
    return results;
  }

  /** The drifts in the ledger, as field, change and action. */
  private List<String> drifts(String feed) {
    return warehouse
        .ledger()
        .journal()
        .drifts(Optional.of(feed), Optional.empty(), Optional.empty(), 100)
        .stream()
        .map(d -> d.field() + " " + d.change() + " " + d.action() + " " + d.records())
        .sorted()
        .toList();
  }

  private List<String> rows(String table, String columns) {
    return query("select " + columns + " from intake." + table + " order by no").stream()
        .map(row -> row.stream().map(String::valueOf).collect(Collectors.joining("|")))
        .toList();
  }

  @Test
  void newColumnsGrowTheTableAndLaterFilesFillThem() {
    Feed feed = milk("grows", Fields.EXTEND).build();
    MemoryDepot depot =
        new MemoryDepot()
            .with("a.csv", FIRST)
            .with("b.csv", "no,litres,Organic Milk,seen,code\n2,1.5,true,2026-03-02,007\n3,1,,,\n")
            .with("c.csv", FIRST.replace("1,", "4,"))
            .with("d.csv", "code,seen,organic milk,no\n008,2026-03-03,false,5\n");
    List<FileResult> results = results(feed, depot);
    assertEquals(List.of(true, true, true, true), posted(results));
    assertEquals(
        List.of(
            "1|null|null|null",
            "2|true|2026-03-02|007",
            "3|null|null|null",
            "4|null|null|null",
            "5|false|2026-03-03|008"),
        rows("grows", "no, organic_milk, seen, code"));
    assertEquals(
        List.of(
            "Organic Milk new extended 1",
            "code new extended 1",
            "litres missing null 1",
            "seen new extended 1"),
        drifts("grows"));
    DriftLine seen =
        warehouse
            .ledger()
            .journal()
            .drifts(Optional.of("grows"), Optional.empty(), Optional.empty(), 9)
            .stream()
            .filter(d -> d.field().equals("seen"))
            .findFirst()
            .orElseThrow();
    assertEquals(
        "alter table \"intake\".\"grows\" add column \"seen\" date", seen.statement().get());
    depot.with("e.csv", "no,litres,seen\n6,2,not a day\n");
    assertEquals(
        FileState.REFUSED, results(feed, depot).get(0).state(), "a type never becomes narrower");
    FeedProof check = warehouse.proofs().feed("grows", feed.into(), List.of());
    assertEquals(check.tally().loaded(), check.tableRows());
  }

  private static List<Boolean> posted(List<FileResult> results) {
    return results.stream().map(r -> r.state() == FileState.POSTED).toList();
  }

  @Test
  void typesBecomeWiderWhereThatIsAllowedAndNeverNarrower() {
    String wide = "no,litres\n3000000000,12345.67\n7,x\n";
    Feed strict = milk("strict", Fields.EXTEND).build();
    assertEquals(List.of(false), posted(results(strict, new MemoryDepot().with("a.csv", wide))));
    Feed feed = milk("wider", new DriftPolicy(Fields.EXTEND, true, 50)).tolerance("1").build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", FIRST).with("b.csv", wide);
    assertEquals(List.of(true, true), posted(results(feed, depot)));
    assertEquals(List.of("1|10.50", "3000000000|12345.67"), rows("wider", "no, litres"));
    assertEquals(List.of("litres type widened 1", "no type widened 1"), drifts("wider"));
    assertEquals(1, rejects("wider").size(), "what is not a number stays a reject");
    depot.with("c.csv", "no,litres\n4000000000,99999.99\n");
    assertEquals(List.of(true), posted(results(feed, depot)), "a new start knows the wider types");
    assertEquals(2, drifts("wider").size());
  }

  @Test
  void aValueThatNoWiderTypeHoldsIsARejectAndTheOthersAreLoaded() {
    String beyond = "99999999999999999999,1\n";
    DriftPolicy widening = new DriftPolicy(Fields.EXTEND, true, 50);
    Feed feed = milk("beyond", widening).tolerance("any").build();
    FileResult small =
        results(
                feed,
                new MemoryDepot().with("a.csv", FIRST).with("b.csv", "no,litres\n2,2\n" + beyond))
            .get(1);
    assertEquals(Tally.posted(2, 1, 1, 0), small.tally());
    assertEquals(List.of(), drifts("beyond"));
    String text = many("1234567890123456789012345678901", "0.123456789");
    FileResult apart = results(feed, new MemoryDepot().with("c.csv", text)).get(0);
    assertEquals(Tally.posted(60_002, 60_000, 2, 0), apart.tally(), "no type holds both");
    assertEquals(List.of(), drifts("beyond"));
    FileResult wider =
        results(feed, new MemoryDepot().with("d.csv", many("12345678.5", "x") + beyond)).get(0);
    assertEquals(Tally.posted(60_003, 60_001, 2, 0), wider.tally());
    assertEquals(List.of("litres type widened 1"), drifts("beyond"));
  }

  /** Several batches of rows, with these values in the first one and the last one. */
  private static String many(String first, String last) {
    StringBuilder text = new StringBuilder("no,litres\n-1," + first + "\n");
    for (int row = 0; row < 60_000; row++) {
      text.append(row).append(",1\n");
    }
    return text.append("60000,").append(last).append('\n').toString();
  }

  @Test
  void whatHasNoPlaceIsCapturedAndTheRowIsLoaded() {
    Feed feed = milk("kept", Fields.CAPTURE).tolerance("1").build();
    MemoryDepot depot =
        new MemoryDepot()
            .with(
                "a.csv",
                "no,litres,note,seen\n1,lots,\"say \"\"so\"\"\",\n2,2.5,,2026-03-02\n3,123456.7,\u00e4\\t,x\nx,1,,\n");
    FileResult result = results(feed, depot).get(0);
    assertEquals(3, result.tally().loaded());
    assertEquals(1, result.tally().rejected(), "a column that needs a value cannot go without");
    assertEquals(
        List.of(
            "1|null|{\"litres\":\"lots\",\"note\":\"say \\\"so\\\"\"}",
            "2|2.5|{\"seen\":\"2026-03-02\"}",
            "3|null|{\"litres\":\"123456.7\",\"note\":\"\u00e4\\\\t\",\"seen\":\"x\"}"),
        rows("kept", "no, litres, leftovers"));
    assertEquals(
        List.of("litres type captured 2", "note new captured 2", "seen new captured 2"),
        drifts("kept"));
    depot.with("b.csv", "no,litres\n5,5.5\n").with("c.csv", "no,litres\n6,none\n");
    results(feed, depot);
    assertEquals(
        List.of("5|5.5|null", "6|null|{\"litres\":\"none\"}"),
        rows("kept", "no, litres, leftovers").subList(3, 5),
        "back and forth");
  }

  @Test
  void membersOfJsonAreCapturedFromRecordToRecord() {
    String text =
        """
        {"no":1,"farm":{"owner":"ada","size":12.50,"place":{"x":[1,{"y":null}]}},"late":true}
        {"no":2,"farm":"gone","note":"a\\"b","late":null,"a.b":1}
        {"no":3,"farm":{"owner":"bob"}}
        """;
    Feed feed = events("member", Fields.CAPTURE).build();
    results(feed, new MemoryDepot().with("a.json", text));
    assertEquals(
        List.of(
            "1|ada|{\"farm.size\":12.50,\"farm.place\":{\"x\":[1,{\"y\":null}]},\"late\":true}",
            "2|null|{\"farm\":\"gone\",\"note\":\"a\\\"b\",\"['a.b']\":1}",
            "3|bob|null"),
        rows("member", "no, owner, leftovers"));
    Feed strict = events("strictmember", Fields.REFUSE).build();
    FileResult refused = results(strict, new MemoryDepot().with("a.json", text)).get(0);
    assertEquals(FileState.REFUSED, refused.state());
    assertTrue(refused.message().contains("6 of its fields are new"), refused.message());
    Feed loose = events("loosemember", Fields.IGNORE).build();
    results(loose, new MemoryDepot().with("a.json", text));
    assertEquals(3, count("intake.loosemember"));
    assertTrue(
        drifts("loosemember").contains("late new ignored 1"), drifts("loosemember").toString());
    Feed growing = events("growmember", Fields.EXTEND).build();
    results(growing, new MemoryDepot().with("a.json", text));
    assertEquals(
        List.of("1|12.50|true|null", "2|null|null|a\"b", "3|null|null|null"),
        rows("growmember", "no, farm_size, late, note"));
  }

  @Test
  void aFeedMayRefuseOrIgnoreWhatItDoesNotKnow() {
    String other = "no,litres,note\n2,2,x\n";
    Feed strict = milk("refusing", Fields.REFUSE).build();
    FileResult refused = results(strict, new MemoryDepot().with("a.csv", other)).get(0);
    assertEquals(FileState.REFUSED, refused.state());
    assertTrue(refused.message().contains("note is new"), refused.message());
    assertEquals(List.of("note new refused 0"), drifts("refusing"));
    FileResult lacking = results(strict, new MemoryDepot().with("b.csv", "no\n1\n")).get(0);
    assertTrue(lacking.message().contains("litres is missing"), lacking.message());
    Feed loose = milk("ignoring", Fields.IGNORE).build();
    results(loose, new MemoryDepot().with("a.csv", other));
    assertEquals(List.of("2|2.0"), rows("ignoring", "no, litres"));
    assertEquals(List.of("note new ignored 1"), drifts("ignoring"));
  }

  @Test
  void aMissingColumnIsNullIfItMayBeAndARenamedOneIsOnlySuggested() {
    Feed feed = milk("lacking", Fields.IGNORE).build();
    FileResult result = results(feed, new MemoryDepot().with("a.csv", "no,Litre\n1,2.5\n")).get(0);
    assertEquals(List.of("1|null"), rows("lacking", "no, litres"));
    Drift missing =
        result.drifts().stream().filter(d -> d.change() == Drift.Change.MISSING).findFirst().get();
    assertEquals(
        "Litre may be its new name: if so, give column litres from: Litre", missing.remark());
    FileResult needed =
        results(feed, new MemoryDepot().with("b.csv", "number,litres\n1,2.5\n")).get(0);
    assertEquals(FileState.REFUSED, needed.state());
    assertTrue(needed.message().contains("no is missing"), needed.message());
  }

  @Test
  void fiveHundredNewColumnsAtOnceAreTooMany() {
    String names = IntStream.range(0, 500).mapToObj(i -> ",c" + i).collect(Collectors.joining());
    String values = IntStream.range(0, 500).mapToObj(i -> ",1").collect(Collectors.joining());
    Feed feed = milk("many", Fields.EXTEND).build();
    MemoryDepot depot =
        new MemoryDepot().with("a.csv", "no,litres%s\n1,1%s\n".formatted(names, values));
    FileResult result = results(feed, depot).get(0);
    assertEquals(FileState.REFUSED, result.state());
    assertTrue(
        result.message().contains("500 fields are new, and at most 50 may be added at once"),
        result.message());
    String members =
        IntStream.range(0, 51).mapToObj(i -> ",\"c" + i + "\":1").collect(Collectors.joining());
    Feed json = events("manymembers", Fields.EXTEND).build();
    FileResult other =
        results(json, new MemoryDepot().with("a.json", "{\"no\":1%s}\n".formatted(members))).get(0);
    assertTrue(other.message().contains("at most 50"), other.message());
  }

  @Test
  void aTableThatCannotGrowRefusesTheFileAndNoOther() {
    needsRules();
    execute("create schema if not exists intake");
    execute(
        "create table intake.viewed (no integer not null, litres decimal(5,1), dusky_load bigint,"
            + " dusky_file bigint, dusky_row bigint)");
    execute("create view intake.viewing as select no, litres from intake.viewed");
    Feed feed = milk("viewed", new DriftPolicy(Fields.EXTEND, true, 50)).existing().build();
    MemoryDepot depot =
        new MemoryDepot().with("a.csv", "no,litres\n1,123456.7\n").with("b.csv", FIRST);
    List<FileResult> results = results(feed, depot);
    boolean refuses = results.get(0).state() == FileState.REFUSED;
    assertEquals(!warehouse.embedded(), refuses, "PostgreSQL keeps what a view reads");
    assertEquals(refuses, results.get(0).message().contains("cannot be extended for the file"));
    assertEquals(FileState.POSTED, results.get(1).state());
  }

  @Test
  void aSecondLoadFindsTheColumnThatTheFirstOneAdded() {
    Feed feed = milk("both", Fields.EXTEND).build();
    MemoryDepot first = new MemoryDepot().with("a.csv", "no,litres,note\n1,1,5\n");
    MemoryDepot second = new MemoryDepot().with("b.csv", "no,litres,note\n2,1,6\n");
    boolean[] nested = new boolean[1];
    second.beforeOpening(
        () -> {
          if (!nested[0]) {
            nested[0] = true;
            results(feed, first);
          }
        });
    results(feed, second);
    assertEquals(List.of("1|5", "2|6"), rows("both", "no, note"));
    assertEquals(1, count("dusky.feed_column where feed = 'both'"));
  }

  @Test
  void aRehearsalPredictsDriftAndChangesNothing() {
    Feed feed = milk("predicted", new DriftPolicy(Fields.EXTEND, true, 50)).build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", FIRST);
    results(feed, depot);
    depot.with("b.csv", "no,litres,note\n2,123456.7,x\n").with("c.csv", "no,litres,note\n3,1,y\n");
    List<FileResult> predicted = new ArrayList<>();
    LoadListener listener =
        new LoadListener() {
          @Override
          public void finished(FileResult result) {
            predicted.add(result);
          }
        };
    rehearsing(
            warehouse,
            (file, outcome, rejects) -> {},
            LoadRun.of(feed, depot, listener, () -> false))
        .run(start(feed));
    assertEquals(
        0,
        count(
            "information_schema.columns where table_name = 'predicted' and column_name = 'note'"));
    assertEquals(0, count("dusky.drift_detail where feed = 'predicted'"));
    List<FileResult> done = results(feed, depot);
    assertEquals(
        done.stream().map(FileResult::drifts).toList(),
        predicted.stream().map(FileResult::drifts).toList());
  }

  @Test
  void aTableChangedByOthersBetweenTwoFilesIsTold() {
    Feed feed = milk("changed", Fields.CAPTURE).build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", FIRST);
    results(feed, depot);
    execute("alter table intake.changed drop column litres");
    depot.with("b.csv", "no,litres\n2,2\n");
    Failure failure = assertThrows(Failure.class, () -> results(feed, depot));
    assertTrue(failure.getMessage().contains("column litres does not exist"), failure.getMessage());
  }

  @Test
  void capturedFieldsArePromotedExactly() {
    Feed feed = milk("promoted", Fields.CAPTURE).build();
    MemoryDepot depot =
        new MemoryDepot()
            .with(
                "a.csv",
                "no,litres,size,note\n1,1,12345678901234567890.50,x\n2,,,\"y\"\"\u00e4\"\n3,9,7,\n");
    results(feed, depot);
    Promoted size =
        warehouse
            .promotions()
            .promote(start(feed), feed, "size", Optional.empty(), Optional.empty());
    assertEquals("decimal(22,2)", size.type().toString());
    assertEquals(2, size.rows());
    assertEquals(
        List.of(
            "1|12345678901234567890.50|{\"note\":\"x\"}",
            "2|null|{\"note\":\"y\\\"\u00e4\"}",
            "3|7.00|null"),
        rows("promoted", "no, size, leftovers"));
    Feed grown = feed.grown(warehouse.ledger().grown("promoted"));
    Failure wrong =
        assertThrows(
            Failure.class,
            () ->
                warehouse
                    .promotions()
                    .promote(
                        start(feed), grown, "note", Optional.empty(), SqlType.parse("bigint")));
    assertTrue(wrong.getMessage().contains("'x'"), wrong.getMessage());
    assertFalse(warehouse.tables().shape(feed.into()).orElseThrow().column("note").isPresent());
    assertEquals(
        0,
        warehouse
            .promotions()
            .promote(start(feed), grown, "nothing", Optional.empty(), Optional.empty())
            .rows());
    depot.with("b.csv", "no,litres,size,note\n4,1,8.25,z\n");
    results(feed, depot);
    assertEquals("4|8.25|{\"note\":\"z\"}", rows("promoted", "no, size, leftovers").get(3));
    execute("alter table intake.promoted alter column litres set data type decimal(9,1)");
    FeedProof check = warehouse.proofs().feed("promoted", feed.into(), List.of());
    assertEquals(check.tally().loaded(), check.tableRows());
  }

  @Test
  void aValueThatDidNotFitMovesIntoItsColumnOnceThatIsWider() {
    Feed feed = milk("refit", Fields.CAPTURE).build();
    results(feed, new MemoryDepot().with("a.csv", "no,litres\n1,123456.7\n2,3.5\n"));
    assertEquals(List.of("1|null", "2|3.5"), rows("refit", "no, litres"));
    execute("alter table intake.refit alter column litres set data type decimal(9,1)");
    Feed wider =
        new FeedBuilder("refit")
            .column("no", "integer not null")
            .column("litres", "decimal(9,1)")
            .drift(DriftPolicy.of(Fields.CAPTURE))
            .build();
    warehouse
        .promotions()
        .promote(start(feed), wider, "litres", Optional.empty(), Optional.empty());
    assertEquals(List.of("1|123456.7|null", "2|3.5|null"), rows("refit", "no, litres, leftovers"));
  }
}
