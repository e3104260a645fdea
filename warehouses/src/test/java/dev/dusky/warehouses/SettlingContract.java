package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.balance.FeedProof;
import dev.dusky.core.balance.TotalCheck;
import dev.dusky.core.expect.Expectations;
import dev.dusky.core.expect.Trailer;
import dev.dusky.core.expect.Volume;
import dev.dusky.core.expect.VolumePolicy;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.JournalChoice;
import dev.dusky.core.ledger.RejectChoice;
import dev.dusky.core.ledger.RejectCounts;
import dev.dusky.core.ledger.Reversed;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.FileResult;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.load.Selection;
import dev.dusky.core.mend.MendListener;
import dev.dusky.core.mend.Mender;
import dev.dusky.core.mend.Repair;
import dev.dusky.core.preview.FittingFeed;
import dev.dusky.core.preview.Preview;
import dev.dusky.core.preview.PreviewMode;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.StoredReject;
import dev.dusky.core.table.TableName;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.tally.Tolerance;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Loads that are rehearsed, mended, waived, reversed and compared with control totals. */
abstract class SettlingContract extends WarehouseTesting {

  /** A database that nobody has used. */
  abstract DatabaseSettings freshAddress() throws Exception;

  @BeforeEach
  void tables() {
    execute("create schema if not exists intake");
    execute("create schema if not exists dairy");
    execute("create table if not exists dairy.herd (code varchar(8) primary key)");
    execute(
        "insert into dairy.herd select v.code from (values ('WF1'), ('WF2')) v(code)"
            + " where not exists (select 1 from dairy.herd f where f.code = v.code)");
  }

  private void table(String name) {
    execute(
        "create table intake."
            + name
            + " (no bigint primary key, farm varchar(8) references dairy.herd,"
            + " litres decimal(9,1) check (litres < 1000)"
            + RefusalContract.PROVENANCE);
  }

  private static Feed feed(String name, String tolerance) {
    return new FeedBuilder(name)
        .column("no", "bigint")
        .column("farm", "varchar(8)")
        .column("litres", "decimal(9,1)")
        .tolerance(tolerance)
        .existing()
        .build();
  }

  private static Feed totalled(Feed feed, Optional<Trailer> trailer, Optional<String> sidecar) {
    return feed.withPolicies(
        feed.policies()
            .withExpectations(
                new Expectations(List.of("litres"), trailer, sidecar, Optional.empty())));
  }

  private static final String DIRTY =
      "no,farm,litres\n1,WF1,5\n2,XX,5.5\n3,WF2,1000\n1,WF1,7\n4,WF2,9\nx,WF1,1\n5,WF1,2.25\n";

  private Tally mend(Feed feed, List<Repair> repairs, Map<Long, List<Problem>> wrong) {
    MendListener listener =
        new MendListener() {
          @Override
          public void wrong(StoredReject reject, List<Problem> problems) {
            wrong.put(reject.id(), problems);
          }

          @Override
          public void settled(StoredReject reject) {
            wrong.put(reject.id(), List.of());
          }
        };
    return new Mender(warehouse().ledger(), warehouse().tables(), feed, start(feed), listener)
        .run(repairs);
  }

  private static Repair repair(StoredReject reject, String text) {
    return new Repair(reject, reject.preamble(), text.getBytes(StandardCharsets.UTF_8));
  }

  /** Rows with ascending numbers, some of them without litres. */
  private static String rows(int file, int rows, int nulls) {
    StringBuilder text = new StringBuilder("no,farm,litres\n");
    for (int row = 0; row < rows; row++) {
      text.append(file * 1000 + row).append(",WF1,").append(row < nulls ? "\n" : "5\n");
    }
    return text.toString();
  }

  private static Feed watched(Feed feed, VolumePolicy policy) {
    Expectations expected = feed.policies().expectations();
    return feed.withPolicies(
        feed.policies().withExpectations(expected.withVolume(Optional.of(policy))));
  }

  @Test
  void aFileOfUnusualVolumeIsRefusedUntilAPersonAllowsIt() {
    table("volumes");
    MemoryDepot depot = new MemoryDepot();
    VolumePolicy policy = new VolumePolicy(List.of("litres"), Optional.of(0.5));
    Feed feed = watched(feed("volumes", "0"), policy);
    for (int file = 0; file < 9; file++) {
      depot.with(file + ".csv", rows(file, 100, file % 3));
    }
    assertEquals(9, load(warehouse(), feed, depot, new ArrayList<>()).count(FileState.POSTED));
    depot.with("9-few.csv", rows(9, 20, 0)).with("9-null.csv", rows(10, 100, 80));
    depot.with("9-right.csv", rows(11, 90, 2));
    List<FileResult> results = new ArrayList<>();
    load(warehouse(), feed, depot, results);
    assertEquals(
        List.of(FileState.REFUSED, FileState.REFUSED, FileState.POSTED),
        results.stream().map(FileResult::state).toList());
    assertTrue(results.get(0).message().startsWith("unusual volume: 20 rows, usually 100, and"));
    assertTrue(results.get(1).message().contains("80 percent of litres null, usually 1, and"));
    assertEquals(990, count("intake.volumes"));
    Feed allowed = watched(feed("volumes", "0"), policy.anyVolume());
    assertEquals(2, load(warehouse(), allowed, depot, new ArrayList<>()).count(FileState.POSTED));
    List<Volume> known = warehouse().ledger().volumes("volumes", 60);
    assertEquals(12, known.size());
    assertEquals(
        Map.of("litres", 80L),
        known.stream().filter(v -> v.path().equals("9-null.csv")).findFirst().get().nulls());
  }

  @Test
  void aRehearsalPredictsTheLoadExactlyAndWritesNothing() {
    needsRules();
    Random random = new Random(7);
    table("predicted");
    MemoryDepot depot = new MemoryDepot();
    for (int file = 0; file < 6; file++) {
      StringBuilder text = new StringBuilder("no,farm,litres\n");
      for (int row = 0; row < 300; row++) {
        text.append(random.nextInt(20) == 0 ? "x" : Integer.toString(random.nextInt(3000)))
            .append(random.nextInt(15) == 0 ? ",XX," : random.nextInt(9) == 0 ? ",," : ",WF2,")
            .append(random.nextInt(10) == 0 ? "1000" : random.nextInt(25) == 0 ? "1.25" : "7")
            .append(random.nextInt(40) == 0 ? ",more\n" : "\n");
      }
      depot.with(file + ".csv", text.toString());
      if (file == 3) {
        depot.with("3-twin.csv", text.toString());
      }
    }
    Feed feed = feed("predicted", "34%");
    List<String> rehearsed = new ArrayList<>();
    Map<String, FileResult> expected = new TreeMap<>();
    LoadListener listener =
        new LoadListener() {
          @Override
          public void finished(FileResult result) {
            expected.put(result.file().path(), result);
          }
        };
    LoadResult prediction =
        rehearsing(
                warehouse(),
                (file, outcome, rejects) ->
                    rejects.forEach(
                        r ->
                            r.problems()
                                .forEach(
                                    p -> rehearsed.add(line(file.path(), r.recordNumber(), p)))),
                LoadRun.of(feed, depot, listener, () -> false))
            .run(start(feed));
    assertEquals(0, count("intake.predicted"));
    assertEquals(
        0L, query("select count(*) from dusky.load where feed = 'predicted'").get(0).get(0));
    assertEquals(
        0L, query("select count(*) from dusky.file where feed = 'predicted'").get(0).get(0));
    List<FileResult> results = new ArrayList<>();
    LoadResult loaded = load(warehouse(), feed, depot, results);
    assertEquals(loaded.files(), prediction.files());
    assertEquals(loaded.tally(), prediction.tally());
    assertEquals(loaded.refused(), prediction.refused());
    assertTrue(loaded.count(FileState.REFUSED) > 0 && loaded.count(FileState.POSTED) > 1);
    for (FileResult result : results) {
      assertEquals(expected.get(result.file().path()).tally(), result.tally());
      assertEquals(expected.get(result.file().path()).state(), result.state());
    }
    List<String> found = new ArrayList<>();
    for (StoredReject r : rejects("predicted")) {
      r.reject()
          .problems()
          .forEach(p -> found.add(line(r.file().path(), r.reject().recordNumber(), p)));
    }
    assertEquals(found.stream().sorted().toList(), rehearsed.stream().sorted().toList());
  }

  private static String line(String path, long record, Problem problem) {
    return path
        + " "
        + record
        + " "
        + problem.code()
        + " "
        + problem.column()
        + " "
        + problem.value();
  }

  @Test
  void aMendedRecordBecomesTheRowThatItsFileShouldHaveHad() {
    needsRules();
    table("mended");
    Feed feed = totalled(feed("mended", "any"), Optional.empty(), Optional.empty());
    load(feed, new MemoryDepot().with("a.csv", DIRTY));
    List<StoredReject> rejects = rejects("mended");
    assertEquals(
        List.of(2L, 3L, 4L, 6L, 7L), rejects.stream().map(r -> r.reject().recordNumber()).toList());
    Map<Long, List<Problem>> wrong = new TreeMap<>();
    Tally tally =
        mend(
            feed,
            List.of(
                repair(rejects.get(0), "2,WF1,5.5"),
                repair(rejects.get(1), "3,WF2,1000"),
                repair(rejects.get(3), "6,WF1,y"),
                repair(rejects.get(4), "5,WF1,2.2")),
            wrong);
    assertEquals(new Tally(4, 2, 0, 2, 0, 0), tally);
    assertEquals(
        List.of(List.<Object>of(2L, 1L, 2L), List.<Object>of(5L, 1L, 7L)),
        query(
            "select no, dusky_file - (select min(dusky_file) from intake.mended) + 1, dusky_row"
                + " from intake.mended where no in (2, 5) order by no"));
    assertEquals(2, wrong.size());
    List<StoredReject> open = rejects("mended");
    assertEquals(List.of(3L, 4L, 6L), open.stream().map(r -> r.reject().recordNumber()).toList());
    assertEquals("y", open.get(2).reject().problems().get(0).value());
    assertEquals("x,WF1,1", new String(open.get(2).reject().raw(), StandardCharsets.UTF_8));
    assertEquals("6,WF1,y", new String(open.get(2).latest(), StandardCharsets.UTF_8));
    assertEquals(
        new Tally(2, 0, 0, 0, 0, 0).read(),
        warehouse()
            .ledger()
            .rejects()
            .waive(RejectChoice.ids(List.of(open.get(0).id(), open.get(1).id())), "me", "no"));
    FeedProof check = warehouse().proofs().feed("mended", feed.into(), List.of("litres"));
    assertEquals(new Tally(7, 2, 0, 5, 0, 0), check.tally());
    assertEquals(4, check.tableRows());
    assertEquals(2, check.mended());
    assertEquals(new RejectCounts(1, 2, 2), check.rejects());
    assertEquals(List.of(), check.differences());
    assertEquals(new BigDecimal("21.7"), check.totals().get(0).inLedger());
    assertEquals(new BigDecimal("21.7"), check.totals().get(0).inTable());
    assertEquals(
        4,
        warehouse()
            .ledger()
            .rejects()
            .purge(Optional.of("mended"), Instant.now().plusSeconds(60), "me"));
    assertEquals(
        new RejectCounts(1, 2, 2),
        warehouse().proofs().feed("mended", feed.into(), List.of()).rejects());
  }

  @Test
  void aRejectIsMendedOnceOnly() {
    table("once");
    Feed feed = feed("once", "any");
    load(feed, new MemoryDepot().with("a.csv", "no,farm,litres\n1,WF1,1\nx,WF1,2\n"));
    StoredReject reject = rejects("once").get(0);
    Map<Long, List<Problem>> wrong = new TreeMap<>();
    assertEquals(1, mend(feed, List.of(repair(reject, "2,WF1,2")), wrong).loaded());
    assertEquals(Map.of(), wrong);
    assertEquals(0, mend(feed, List.of(repair(reject, "3,WF1,2")), wrong).loaded());
    assertEquals(Map.of(reject.id(), List.of()), wrong);
    assertEquals(2, count("intake.once"));
  }

  @Test
  void afterAChangeOpenRejectsAreReadAgainAsTheyAre() {
    needsRules();
    table("retried");
    Feed feed = feed("retried", "any");
    load(feed, new MemoryDepot().with("a.csv", DIRTY));
    execute(
        "insert into dairy.herd select 'XX' where not exists (select 1 from dairy.herd where code = 'XX')");
    List<Repair> open = rejects("retried").stream().map(Repair::asItIs).toList();
    Map<Long, List<Problem>> wrong = new TreeMap<>();
    assertEquals(new Tally(5, 1, 0, 4, 0, 0), mend(feed, open, wrong));
    execute("delete from intake.retried where farm = 'XX'");
    execute("delete from dairy.herd where code = 'XX'");
  }

  @Test
  void oneRowOfAJsonRecordIsMendedAlone() {
    JsonLayout plain = JsonLayout.plain("j");
    JsonLayout rows =
        new JsonLayout(
            plain.name(),
            plain.form(),
            Optional.empty(),
            Optional.of("$.r[*]"),
            plain.emptyRows(),
            List.of(),
            plain.encoding(),
            List.of(),
            plain.recordLimit());
    execute("create table intake.pieces (id integer, v integer" + RefusalContract.PROVENANCE);
    Feed feed =
        new FeedBuilder("pieces")
            .column("id", "integer")
            .column("v", "integer")
            .layout(rows)
            .tolerance("any")
            .existing()
            .from("id", "$.id")
            .from("v", "$.r[*].v")
            .build();
    String good = "{\"id\":1,\"r\":[{\"v\":1},{\"v\":2},{\"v\":3}]}";
    String bad = good.replace("2}", "\"x\"}");
    load(feed, new MemoryDepot().with("a.jsonl", bad + "\n{\"id\":2,\"r\":[{\"v\":4}\n"));
    List<StoredReject> open = rejects("pieces");
    assertEquals(List.of(2L, 4L), open.stream().map(r -> r.reject().recordNumber()).toList());
    assertEquals(1, open.get(0).reject().piece());
    Map<Long, List<Problem>> wrong = new TreeMap<>();
    Tally tally =
        mend(
            feed,
            List.of(
                repair(open.get(0), good),
                repair(open.get(1), "{\"id\":2,\"r\":[{\"v\":4},{\"v\":5}]}")),
            wrong);
    assertEquals(Map.of(), wrong);
    assertEquals(new Tally(3, 3, 0, 0, 0, 0), tally);
    assertEquals(
        List.of(
            List.<Object>of(1, 1L),
            List.<Object>of(2, 2L),
            List.<Object>of(3, 3L),
            List.<Object>of(4, 4L),
            List.<Object>of(5, 4L)),
        query("select v, dusky_row from intake.pieces order by v"));
  }

  @Test
  void rowsThatOthersReferToAreNotTakenOut() {
    needsRules();
    table("referred");
    Feed feed = feed("referred", "any");
    load(feed, new MemoryDepot().with("a.csv", DIRTY));
    execute("create table intake.bill (no bigint references intake.referred)");
    execute("insert into intake.bill values (1)");
    Failure failure =
        assertThrows(
            Failure.class,
            () -> warehouse().reversals().file(start(feed), feed.into(), "a.csv", ""));
    assertTrue(failure.getMessage().contains("other tables refer to them"), failure.getMessage());
    assertEquals(2, count("intake.referred"));
    assertEquals(5, rejects("referred").size());
  }

  @Test
  void aReversalTakesOutExactlyTheRowsAndTheFileIsLoadedAgain() {
    needsRules();
    table("undone");
    Feed feed = totalled(feed("undone", "any"), Optional.empty(), Optional.empty());
    MemoryDepot depot =
        new MemoryDepot().with("a.csv", DIRTY).with("b.csv", "no,farm,litres\n8,WF1,3\n");
    load(feed, depot);
    mend(feed, List.of(repair(rejects("undone").get(3), "6,WF1,1")), new TreeMap<>());
    assertEquals(4, count("intake.undone"));
    Reversed reversed = warehouse().reversals().file(start(feed), feed.into(), "a.csv", "wrong");
    assertEquals(List.of("a.csv"), reversed.files());
    assertEquals(3, reversed.rows());
    assertEquals(List.of(List.of(8L)), query("select no from intake.undone"));
    assertEquals(0, warehouse().proofs().strays(feed.into()));
    assertEquals(
        List.of(List.of(1L, 1L)),
        query(
            "select cast(sum(t.read_rows) as bigint), cast(sum(t.loaded_rows) as bigint) from dusky.tally t join dusky.file f"
                + " on f.file_id = t.file_id where f.feed = 'undone'"));
    assertEquals(
        "reverse",
        warehouse().ledger().journal().loads(JournalChoice.of("undone"), 1).get(0).kind());
    assertEquals(
        List.of(), warehouse().reversals().file(start(feed), feed.into(), "a.csv", "").files());
    LoadResult again = load(feed, depot);
    assertEquals(1, again.count(FileState.POSTED));
    assertEquals(3, count("intake.undone"));
    FeedProof check = warehouse().proofs().feed("undone", feed.into(), List.of("litres"));
    assertEquals(new Tally(8, 3, 0, 5, 0, 0), check.tally());
    assertEquals(new RejectCounts(5, 0, 0), check.rejects());
    assertEquals(check.totals().get(0).inTable(), check.totals().get(0).inLedger());
  }

  @Test
  void reversingAMendOpensItsRejectsAgain() {
    table("unmended");
    Feed feed = feed("unmended", "any");
    load(feed, new MemoryDepot().with("a.csv", "no,farm,litres\n1,WF1,1\nx,WF1,2\n"));
    mend(feed, List.of(repair(rejects("unmended").get(0), "2,WF1,2")), new TreeMap<>());
    long mending =
        warehouse().ledger().journal().loads(JournalChoice.of("unmended"), 1).get(0).loadId();
    warehouse().reversals().load(start(feed), feed.into(), mending, true, "");
    assertEquals(1, rejects("unmended").size());
    assertEquals(List.of(List.of(1L)), query("select no from intake.unmended"));
  }

  @Test
  void aFileThatIsLoadedAgainReplacesItsRows() {
    needsRules();
    table("again");
    Feed feed = feed("again", "any");
    MemoryDepot depot = new MemoryDepot().with("a.csv", DIRTY);
    load(feed, depot);
    load(feed, depot);
    LoadRun run =
        LoadRun.of(feed, depot, new LoadListener() {}, () -> false)
            .withSelection(Optional.of(Selection.again(depot.look("a.csv").orElseThrow())));
    assertEquals(
        Tally.posted(7, 2, 5, 0),
        new FeedLoader(warehouse().ledger(), warehouse().tables(), run).run(start(feed)).tally());
    assertEquals(2, count("intake.again"));
    assertEquals(5, rejects("again").size());
    depot.with("b.csv", DIRTY);
    assertEquals(1, load(feed, depot).count(FileState.TWIN));
    LoadRun twin =
        LoadRun.of(feed, depot, new LoadListener() {}, () -> false)
            .withSelection(Optional.of(Selection.again(depot.look("b.csv").orElseThrow())));
    assertEquals(
        1,
        new FeedLoader(warehouse().ledger(), warehouse().tables(), twin)
            .run(start(feed))
            .count(FileState.TWIN));
    assertEquals(2, count("intake.again"));
    Feed strict = feed("again", "0");
    LoadRun refused =
        LoadRun.of(strict, depot, new LoadListener() {}, () -> false)
            .withSelection(Optional.of(Selection.again(depot.look("a.csv").orElseThrow())));
    assertEquals(
        1,
        new FeedLoader(warehouse().ledger(), warehouse().tables(), refused)
            .run(start(feed))
            .count(FileState.REFUSED));
    assertEquals(2, count("intake.again"));
    assertEquals(
        new Tally(14, 2, 7, 5, 0, 0),
        warehouse().proofs().feed("again", feed.into(), List.of()).tally());
  }

  @Test
  void controlTotalsThatDoNotAgreeRefuseTheFileAndShowBothNumbers() throws Exception {
    needsRules();
    table("controlled");
    Trailer trailer =
        new Trailer("T", Optional.of(new Trailer.Field(2)), Map.of("litres", new Trailer.Field(3)));
    Feed feed = totalled(feed("controlled", "any"), Optional.of(trailer), Optional.empty());
    MemoryDepot depot =
        new MemoryDepot()
            .with("a.csv", "no,farm,litres\n1,WF1,1.5\n2,XX,2\nT,2,3.5\n")
            .with("b.csv", "no,farm,litres\n3,WF1,1.5\n4,XX,2\nT,3,3.6\n")
            .with("c.csv", "no,farm,litres\n5,WF1,1.5\n");
    Preview look =
        Preview.at(depot, depot.look("a.csv").orElseThrow(), feed, PreviewMode.COUNT, 1, 1);
    assertEquals(2, look.read());
    assertEquals(0, look.rejected());
    LoadResult result = load(feed, depot);
    assertEquals(Tally.posted(2, 1, 1, 0), result.tally());
    assertEquals(2, result.count(FileState.REFUSED));
    String message = message("controlled", "b.csv");
    assertTrue(
        message.contains("its trailer says 3 rows, the file has 2")
            && message.contains("its trailer says litres = 3.6, the file has 3.5")
            && message.contains("of which 2.0 in rows that would not be loaded (-0.1 off)"),
        message);
    assertTrue(message("controlled", "c.csv").contains("has no trailer"));
    assertEquals(
        List.of("1.5", "2", "3.5"),
        query(
                "select loaded_total, other_total, expected_total from dusky.control_total c"
                    + " join dusky.file f on f.file_id = c.file_id where f.feed = 'controlled'"
                    + " and f.path = 'a.csv'")
            .get(0)
            .stream()
            .map(n -> new BigDecimal(n.toString()).stripTrailingZeros().toPlainString())
            .toList());
    TotalCheck sum =
        warehouse.proofs().feed("controlled", feed.into(), List.of("litres")).totals().get(0);
    assertEquals(0, sum.inLedger().compareTo(new BigDecimal("1.5")), "refused files add nothing");
    assertTrue(sum.agrees(), sum.toString());
  }

  private String message(String feed, String path) {
    return query(
            "select message from dusky.file where feed = '" + feed + "' and path = '" + path + "'")
        .get(0)
        .get(0)
        .toString();
  }

  @Test
  void aFileWaitsForItsControlFile() {
    table("beside");
    Feed feed = totalled(feed("beside", "any"), Optional.empty(), Optional.of("{file.path}.json"));
    MemoryDepot depot = new MemoryDepot().with("a.csv", "no,farm,litres\n1,WF1,1.5\n");
    Feed csv =
        new Feed(
            feed.name(),
            feed.depot(),
            dev.dusky.core.feed.FilePattern.of("*.csv"),
            feed.layout(),
            feed.into(),
            false,
            feed.columns(),
            feed.where(),
            feed.ignore(),
            feed.policies());
    assertEquals(1, load(csv, depot).count(FileState.REFUSED));
    assertTrue(message("beside", "a.csv").contains("needs its control file"));
    depot.with("a.csv.json", "{\"rows\": 1, \"totals\": {\"litres\": 1.50}}");
    assertEquals(1, load(csv, depot).count(FileState.POSTED));
  }

  @Test
  void aFileOfAnotherFeedIsOneRejectAndNamesThatFeed() {
    Feed wrong =
        new FeedBuilder("dockets")
            .column("no", "bigint")
            .column("day", "date")
            .tolerance("90%")
            .build();
    Feed right = new FeedBuilder("names").column("no", "text").column("day", "text").build();
    Feed any =
        new FeedBuilder("anything")
            .layout(FeedBuilder.delimitedBy(",", HeaderUse.SKIP))
            .column("a", "text")
            .column("b", "text")
            .build();
    StringBuilder text = new StringBuilder("no,day\n");
    for (int i = 0; i < 500; i++) {
      text.append("farm ").append(i).append(",yesterday\n");
    }
    MemoryDepot depot = new MemoryDepot().with("a.csv", text.toString());
    LoadResult result =
        new FeedLoader(
                warehouse().ledger(),
                warehouse().tables(),
                LoadRun.of(wrong, depot, new LoadListener() {}, () -> false)
                    .withFitting(new FittingFeed(List.of(wrong, any, right))))
            .run(start(wrong));
    assertEquals(1, result.count(FileState.REFUSED));
    assertEquals(500, result.refused().rejected());
    assertEquals(1, rejects("dockets").size());
    String message = rejects("dockets").get(0).reject().problems().get(0).message();
    assertTrue(
        message.startsWith("500 of 500 rows fail the same way: bad-date in day, bad-number in no")
            && message.endsWith("It can be read as a file of feed names"),
        message);
  }

  @Test
  void aWholeLoadHasAToleranceOfItsOwn() {
    table("bounded");
    Feed feed = feed("bounded", "any");
    Feed bounded =
        feed.withPolicies(feed.policies().withLoadTolerance(Tolerance.parse("2").orElseThrow()));
    MemoryDepot depot =
        new MemoryDepot()
            .with("a.csv", "no,farm,litres\n1,WF1,1\nx,WF1,1\n")
            .with("b.csv", "no,farm,litres\n2,WF1,1\nx,WF1,2\ny,WF1,2\n")
            .with("c.csv", "no,farm,litres\n3,WF1,1\nx,WF1,3\n");
    LoadResult result = load(bounded, depot);
    assertEquals(2, result.count(FileState.POSTED));
    assertTrue(
        message("bounded", "b.csv").startsWith("with this file, in the whole load 3 of 5 rows"),
        message("bounded", "b.csv"));
  }

  @Test
  void theDatabaseItselfRefusesATallyThatDoesNotBalance() {
    needsRules();
    table("tallied");
    load(feed("tallied", "any"), new MemoryDepot().with("a.csv", "no,farm,litres\n1,WF1,1\n"));
    Failure unbalanced =
        assertThrows(
            Failure.class,
            () ->
                ((JdbcWarehouse) warehouse())
                    .database()
                    .transact(
                        "breaking the books",
                        c -> {
                          try (java.sql.Statement statement = c.getConnection().createStatement()) {
                            return statement.execute("update dusky.tally set loaded_rows = 7");
                          }
                        }));
    assertTrue(unbalanced.getMessage().contains("tally_balances"), unbalanced.getMessage());
  }

  @Test
  void nothingIsReversedInATableThatIsGone() {
    Feed feed = feed("gone", "any");
    TableName nowhere = new TableName("intake", "nowhere");
    Failure failure =
        assertThrows(
            Failure.class, () -> warehouse().reversals().file(start(feed), nowhere, "a", ""));
    assertTrue(failure.getMessage().contains("intake.nowhere does not exist"));
  }
}
