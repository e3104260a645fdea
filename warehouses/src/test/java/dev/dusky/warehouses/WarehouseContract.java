package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.advice.ProblemGroup;
import dev.dusky.core.balance.FeedProof;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.FirstReject;
import dev.dusky.core.ledger.JournalChoice;
import dev.dusky.core.ledger.LoadLine;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.ledger.RejectChoice;
import dev.dusky.core.ledger.RunningLoad;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.FileResult;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.reject.StoredReject;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.usage.Usage;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.Test;

/** What every warehouse promises, tried with whole loads against the real database. */
abstract class WarehouseContract extends WarehouseTesting {

  private static FeedBuilder dockets(String name) {
    return new FeedBuilder(name).column("no", "bigint not null").column("farm", "varchar(8)");
  }

  private static final String GOOD = "no,farm\n1,WF1\n2,WF2\n3,\n";
  private static final String DIRTY =
      "no,farm\n1,WF1\nx,WF2\n3,much too long\ny,also too long\n4,WF4\n";

  @Test
  void valuesOfEveryTypeArriveAsTheyWere() {
    FeedBuilder builder =
        new FeedBuilder("types")
            .column("a", "boolean")
            .column("b", "smallint")
            .column("c", "integer")
            .column("d", "bigint")
            .column("e", "decimal(12,3)")
            .column("f", "real")
            .column("g", "double precision")
            .column("h", "char(4)")
            .column("i", "varchar(10)")
            .column("j", "text")
            .column("k", "date")
            .column("l", "time")
            .column("m", "timestamp")
            .column("n", "timestamp with time zone")
            .column("o", "uuid")
            .column("p", "json")
            .column("q", "bytea");
    String header = "a,b,c,d,e,f,g,h,i,j,k,l,m,n,o,p,q\n";
    String full =
        "true,-7,100000,9000000000,-12345.678,1.5,2.25,ab,Mølle 😀,\"two\nlines\",1969-12-31,"
            + "23:59:59.000001,1999-12-31 23:59:59.5,2026-03-02T05:46:00+02:00,"
            + "0f8fad5b-d9cb-469f-a165-70867728950e,\"{\"\"a\"\": [1.50]}\",00ff10\n";
    LoadResult result =
        load(
            builder.build(),
            new MemoryDepot().with("a.csv", header + full + ",".repeat(16) + "\n"));
    assertEquals(Tally.posted(2, 2, 0, 0), result.tally());
    String columns =
        "select a, b, c, d, e, f, g, rtrim(h), i, j, k, cast(l as varchar(20)),"
            + " cast(m as varchar(40)), n = timestamp with time zone '2026-03-02 03:46:00+00:00',"
            + " cast(o as varchar(40)), cast(p as varchar(100)), q, dusky_row, dusky_load, dusky_file"
            + " from intake.types order by dusky_row";
    List<List<Object>> rows = query(columns);
    List<String> shown = rows.get(0).stream().map(v -> v == null ? "null" : v.toString()).toList();
    assertEquals(
        List.of("true", "-7", "100000", "9000000000", "-12345.678", "1.5", "2.25", "ab"),
        shown.subList(0, 8));
    assertEquals(List.of("Mølle 😀", "two\nlines", "1969-12-31"), shown.subList(8, 11));
    assertEquals("23:59:59.000001", shown.get(11));
    assertTrue(shown.get(12).startsWith("1999-12-31 23:59:59.5"), shown.get(12));
    assertEquals("true", shown.get(13));
    assertEquals("0f8fad5b-d9cb-469f-a165-70867728950e", shown.get(14));
    assertTrue(shown.get(15).contains("1.50"), shown.get(15));
    assertEquals("\\x00ff10", shown.get(16));
    assertEquals("1", shown.get(17));
    assertEquals(Long.toString(result.loadId()), shown.get(18));
    assertTrue(rows.get(1).subList(0, 17).stream().allMatch(v -> v == null), rows::toString);
  }

  @Test
  void decimalsOfAnySizeArriveExactly() {
    Random random = new Random(7);
    int[][] sizes = {{9, 1}, {18, 0}, {18, 18}, {17, 16}, {38, 10}, {4, 3}, {30, 0}};
    FeedBuilder builder = new FeedBuilder("decimals").column("no", "integer");
    for (int i = 0; i < sizes.length; i++) {
      builder.column("d" + i, "decimal(" + sizes[i][0] + "," + sizes[i][1] + ")");
    }
    List<List<BigDecimal>> expected = new ArrayList<>();
    StringBuilder text = new StringBuilder("no,d0,d1,d2,d3,d4,d5,d6\n");
    for (int row = 0; row < 500; row++) {
      List<BigDecimal> values = new ArrayList<>();
      text.append(row);
      for (int[] size : sizes) {
        BigInteger unscaled =
            new BigInteger(130, random).mod(BigInteger.TEN.pow(1 + random.nextInt(size[0])));
        BigDecimal value = new BigDecimal(unscaled, size[1]);
        value = row % 2 == 0 ? value : value.negate();
        values.add(row == 0 ? value.subtract(value) : value);
        text.append(',').append(values.get(values.size() - 1).toPlainString());
      }
      text.append('\n');
      expected.add(values);
    }
    load(builder.build(), new MemoryDepot().with("a.csv", text.toString()));
    List<List<Object>> rows =
        query("select d0, d1, d2, d3, d4, d5, d6 from intake.decimals order by no");
    assertEquals(expected, rows);
  }

  @Test
  void aPostedFileIsNotReadAgain() {
    Feed feed = dockets("once").build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", GOOD).with("b.csv", "no,farm\n9,x\n");
    LoadResult first = load(feed, depot);
    assertEquals(2, first.count(FileState.POSTED));
    assertEquals(Tally.posted(4, 4, 0, 0), first.tally());
    LoadResult second = load(feed, depot);
    assertEquals(0, second.loadId());
    assertEquals(2, second.before());
    assertEquals(1, depot.opened("a.csv"));
    depot.with("a0.csv", "no,farm\n7,late\n");
    assertEquals(Tally.posted(1, 1, 0, 0), load(feed, depot).tally());
    assertEquals(5, count("intake.once"));
  }

  @Test
  void rejectsWithinToleranceAreKeptAndTheRestIsPosted() {
    Feed feed = dockets("tolerant").tolerance("3").build();
    LoadResult result = load(feed, new MemoryDepot().with("a.csv", DIRTY));
    assertEquals(Tally.posted(5, 2, 3, 0), result.tally());
    assertTrue(result.clean());
    List<StoredReject> rejects = rejects("tolerant");
    assertEquals(
        List.of("bad-number", "text-too-long", "bad-number", "text-too-long"),
        rejects.stream()
            .flatMap(r -> r.reject().problems().stream())
            .map(problem -> problem.code().label())
            .toList());
    Reject second = rejects.get(1).reject();
    assertEquals(3, second.recordNumber());
    assertEquals(4, second.line());
    assertEquals(DIRTY.indexOf("3,much"), second.byteOffset());
    assertEquals("farm", second.problems().get(0).column());
    assertEquals("much too long", second.problems().get(0).value());
    assertArrayEquals("3,much too long".getBytes(), second.raw());
    assertEquals(3, rejects.size());
  }

  @Test
  void beyondToleranceNothingIsLoadedAndEverythingIsRecorded() {
    Feed feed = dockets("strict").tolerance("2").build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", DIRTY).with("b.csv", GOOD);
    LoadResult result = load(feed, depot);
    assertEquals(1, result.count(FileState.REFUSED));
    assertEquals(1, result.count(FileState.POSTED));
    assertEquals(Tally.posted(3, 3, 0, 0), result.tally());
    assertEquals(Tally.refused(5, 3, 0), result.refused());
    assertFalse(result.clean());
    assertEquals(3, count("intake.strict"));
    assertEquals(3, rejects("strict").size());
    assertTrue(
        warehouse
            .ledger()
            .journal()
            .files(result.loadId())
            .get(0)
            .message()
            .contains("tolerance of 2"));
  }

  @Test
  void aRefusedFileIsTriedAgainAndItsRejectsAreReplaced() {
    MemoryDepot depot = new MemoryDepot().with("a.csv", DIRTY);
    load(dockets("again").build(), depot);
    load(dockets("again").build(), depot);
    assertEquals(
        3, count("dusky.reject r join dusky.file f on f.file_id = r.file_id and f.feed = 'again'"));
    LoadResult third = load(dockets("again").tolerance("any").build(), depot);
    assertEquals(Tally.posted(5, 2, 3, 0), third.tally());
    assertEquals(
        3, count("dusky.reject r join dusky.file f on f.file_id = r.file_id and f.feed = 'again'"));
    assertEquals(
        3, count("dusky.tally t join dusky.file f on f.file_id = t.file_id and f.feed = 'again'"));
  }

  @Test
  void aShareOfRejectsIsJudgedAtTheEnd() {
    StringBuilder text = new StringBuilder("no,farm\nx,first\n");
    for (int i = 0; i < 199; i++) {
      text.append(i).append(",WF\n");
    }
    MemoryDepot depot = new MemoryDepot().with("a.csv", text.toString());
    assertEquals(
        1, load(dockets("share").tolerance("0.4%").build(), depot).count(FileState.REFUSED));
    assertEquals(
        1, load(dockets("share").tolerance("0.5%").build(), depot).count(FileState.POSTED));
  }

  @Test
  void rejectsBeyondTheCapAreCounted() {
    Feed feed = dockets("capped").tolerance("any").cap(10).build();
    StringBuilder text = new StringBuilder("no,farm\n");
    for (int i = 0; i < 30_000; i++) {
      text.append(i % 2 == 0 ? "x,WF\n" : i + ",WF\n");
    }
    LoadResult result = load(feed, new MemoryDepot().with("a.csv", text.toString()));
    assertEquals(Tally.posted(30_000, 15_000, 15_000, 0), result.tally());
    assertEquals(10, rejects("capped").size());
    FeedProof check = warehouse.proofs().feed("capped", feed.into(), List.of());
    assertEquals(10, check.rejects().recorded());
  }

  @Test
  void theSameContentUnderAnotherNameIsATwin() {
    Feed feed = dockets("twins").build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", GOOD).with("b.csv", GOOD);
    List<FileResult> results = new ArrayList<>();
    LoadResult result = load(warehouse, feed, depot, results);
    assertEquals(1, result.count(FileState.TWIN));
    assertEquals(new Tally(6, 3, 3, 0, 0, 0), result.tally());
    assertTrue(results.get(1).message().startsWith("same content as a.csv, posted in load"));
    assertEquals(3, count("intake.twins"));
    assertEquals(2, load(feed, depot).before());
  }

  @Test
  void aFileThatChangesAfterPostingStopsThatFileOnly() {
    Feed feed = dockets("revised").build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", GOOD);
    load(feed, depot);
    depot.with("a.csv", GOOD + "4,new\n").with("b.csv", "no,farm\n7,other\n");
    List<FileResult> results = new ArrayList<>();
    LoadResult result = load(warehouse, feed, depot, results);
    assertEquals(FileState.REVISED, results.get(0).state());
    assertTrue(results.get(0).message().contains("changed after it was posted"));
    assertEquals(1, result.count(FileState.POSTED));
    assertEquals(4, count("intake.revised"));
    assertFalse(result.clean());
    assertEquals(1, load(feed, depot).count(FileState.REVISED));
    depot.with("a.csv", GOOD);
    assertTrue(load(feed, depot).clean());
  }

  @Test
  void aFileWithoutRowsIsRefused() {
    Feed feed = dockets("norows").build();
    List<FileResult> results = new ArrayList<>();
    load(warehouse, feed, new MemoryDepot().with("a.csv", "no,farm\n").with("b.csv", ""), results);
    assertTrue(results.get(0).message().contains("a.csv has no rows"));
    assertTrue(results.get(1).message().contains("is empty"));
    assertTrue(results.stream().allMatch(r -> r.state() == FileState.REFUSED));
  }

  @Test
  void troubleWithTheDepotLeavesTheFileWaiting() {
    Feed feed = dockets("dead").build();
    MemoryDepot depot =
        new MemoryDepot().with("a.csv", GOOD.repeat(1)).with("b.csv", "no,farm\n5,x\n");
    depot.breakAfter(10);
    Failure failure = assertThrows(Failure.class, () -> load(feed, depot));
    assertEquals(Failure.Kind.DEPOT, failure.kind());
    assertTrue(failure.getMessage().contains("the line is dead"), failure.getMessage());
    LoadLine line = warehouse.ledger().journal().loads(JournalChoice.of("dead"), 1).get(0);
    assertEquals("failed", line.state());
    assertTrue(line.message().contains("the line is dead"));
    depot.breakAfter(-1);
    assertEquals(2, load(feed, depot).count(FileState.POSTED));
    assertEquals(4, count("intake.dead"));
  }

  @Test
  void aTableThatDoesNotFitIsToldBeforeAnythingIsRead() {
    execute("create schema if not exists intake");
    execute(
        "create table intake.narrow (no integer, farm varchar(4) not null, must date not null)");
    MemoryDepot depot = new MemoryDepot().with("a.csv", GOOD);
    Failure failure =
        assertThrows(Failure.class, () -> load(dockets("narrow").existing().build(), depot));
    for (String part : List.of("column no is integer", "varchar(4)", "column must")) {
      assertTrue(failure.getMessage().contains(part), failure.getMessage());
    }
    assertEquals(0, depot.opened("a.csv"));
  }

  @Test
  void aMissingTableIsToldWithTheStatementThatMakesIt() {
    Failure failure =
        assertThrows(
            Failure.class,
            () -> load(dockets("missing").existing().build(), new MemoryDepot().with("a", GOOD)));
    assertTrue(failure.getMessage().contains("create table \"intake\".\"missing\""));
  }

  @Test
  void aTableMadeByALoadFitsTheNextOne() {
    Feed feed =
        dockets("roundtrip")
            .column("a", "text")
            .column("b", "json")
            .column("c", "bytea")
            .column("d", "decimal(38,5)")
            .column("e", "timestamp with time zone")
            .column("f", "time")
            .column("g", "real")
            .column("h", "char(3)")
            .build();
    MemoryDepot depot =
        new MemoryDepot().with("a.csv", "no,farm,a,b,c,d,e,f,g,h\n1" + ",".repeat(9) + "\n");
    load(feed, depot);
    TableShape shape = warehouse.tables().shape(feed.into()).orElseThrow();
    assertTrue(shape.hasProvenance());
    depot.with("b.csv", "no,farm,a,b,c,d,e,f,g,h\n2" + ",".repeat(9) + "\n");
    assertEquals(Tally.posted(1, 1, 0, 0), load(feed, depot).tally());
  }

  @Test
  void aFileThatAnotherLoadHoldsIsLeftToIt() throws Exception {
    Feed feed = dockets("held").build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", GOOD).with("b.csv", "no,farm\n8,x\n");
    warehouse.tables().create(feed.into(), feed.columns());
    TableShape table = warehouse.tables().shape(feed.into()).orElseThrow();
    try (RunningLoad other = warehouse.ledger().begin(start(feed), feed);
        FileClaim claim =
            other.claim(depot.look("a.csv").orElseThrow(), Optional.empty()).orElseThrow()) {
      LoadResult result = load(feed, depot);
      assertEquals(1, result.claimed());
      assertEquals(Tally.posted(1, 1, 0, 0), result.tally());
      assertEquals(List.of(), warehouse.ledger().closeInterrupted());
    }
    assertEquals(Tally.posted(3, 3, 0, 0), load(feed, depot).tally());
  }

  @Test
  void loadsThatRaceForTheSameFilesPostEachOnce() throws Exception {
    Feed feed = dockets("race").build();
    MemoryDepot depot = new MemoryDepot();
    for (int i = 0; i < 40; i++) {
      depot.with("f" + (i + 10), "no,farm\n" + i + ",a\n" + (1000 + i) + ",b\n");
    }
    warehouse.tables().create(feed.into(), feed.columns());
    ExecutorService threads = Executors.newFixedThreadPool(3);
    try {
      List<Callable<LoadResult>> racers = new ArrayList<>();
      for (int i = 0; i < 3; i++) {
        racers.add(
            () -> {
              try (Warehouse own = opened()) {
                return load(own, feed, depot, new ArrayList<>());
              }
            });
      }
      long loaded = 0;
      for (Future<LoadResult> racer : threads.invokeAll(racers)) {
        loaded += racer.get().tally().loaded();
      }
      loaded += load(feed, depot).tally().loaded();
      assertEquals(80, loaded);
    } finally {
      threads.shutdownNow();
    }
    assertEquals(80, count("intake.race"));
    assertEquals(40, count("dusky.file where feed = 'race' and state = 'posted'"));
    FeedProof check = warehouse.proofs().feed("race", feed.into(), List.of());
    assertEquals(List.of(), check.differences());
  }

  @Test
  void aLoadWhoseConnectionIsGoneIsFoundInterrupted() throws SQLException {
    Feed feed = dockets("gone").build();
    warehouse.tables().create(feed.into(), feed.columns());
    TableShape table = warehouse.tables().shape(feed.into()).orElseThrow();
    warehouse.ledger().closeInterrupted();
    RunningLoad lost = warehouse.ledger().begin(start(feed), feed);
    assertEquals(List.of(), warehouse.ledger().closeInterrupted());
    lost.close();
    assertEquals(List.of(lost.id()), warehouse.ledger().closeInterrupted());
    assertEquals(List.of(), warehouse.ledger().closeInterrupted());
    LoadLine line = warehouse.ledger().journal().loads(JournalChoice.of("gone"), 1).get(0);
    assertEquals(LoadState.INTERRUPTED.label(), line.state());
  }

  @Test
  void aLoadThatHasEndedStaysAsItIs() {
    Feed feed = dockets("ended").build();
    warehouse.tables().create(feed.into(), feed.columns());
    TableShape table = warehouse.tables().shape(feed.into()).orElseThrow();
    try (RunningLoad load = warehouse.ledger().begin(start(feed), feed)) {
      load.finish(LoadState.DONE, "", Usage.NONE);
      assertThrows(
          IllegalStateException.class, () -> load.finish(LoadState.FAILED, "late", Usage.NONE));
    }
    assertEquals(
        "done", warehouse.ledger().journal().loads(JournalChoice.of("ended"), 1).get(0).state());
  }

  @Test
  void aLoadThatIsStoppedIsInterruptedAndGoesOnLater() {
    Feed feed = dockets("stopped").build();
    MemoryDepot depot = new MemoryDepot();
    for (int i = 1; i <= 9; i++) { // more than are loaded at the same time
      depot.with(i + ".csv", "no,farm\n%d,x\n".formatted(i) + "\n".repeat(300_000));
    }
    List<String> done = new ArrayList<>();
    LoadListener listener =
        new LoadListener() {
          @Override
          public void finished(FileResult result) {
            done.add(result.file().path());
          }
        };
    Failure failure =
        assertThrows(
            Failure.class,
            () ->
                new FeedLoader(
                        warehouse.ledger(),
                        warehouse.tables(),
                        LoadRun.of(feed, depot, listener, () -> !done.isEmpty()))
                    .run(start(feed)));
    assertEquals(Failure.Kind.INTERRUPTED, failure.kind());
    assertEquals(
        "interrupted",
        warehouse.ledger().journal().loads(JournalChoice.of("stopped"), 1).get(0).state());
    long posted = count("intake.stopped");
    assertEquals(done.size(), posted);
    assertTrue(posted < 9, posted + " posted");
    assertEquals(Tally.posted(9 - posted, 9 - posted, 0, 0), load(feed, depot).tally());
    assertEquals(9, count("intake.stopped"));
  }

  @Test
  void theLedgerItselfRefusesATallyThatDoesNotBalance() {
    load(dockets("unbalanced").build(), new MemoryDepot().with("a.csv", GOOD));
    String where = " where file_id in (select file_id from dusky.file where feed = 'unbalanced')";
    assertThrows(
        Failure.class, () -> query("update dusky.tally set loaded_rows = loaded_rows - 1" + where));
    assertThrows(
        Failure.class,
        () ->
            query(
                "update dusky.tally set loaded_rows = loaded_rows - 1, withheld_rows = 1" + where));
  }

  @Test
  void rowsThatVanishOrAppearAreFound() {
    Feed feed = dockets("proof").build();
    load(feed, new MemoryDepot().with("a.csv", GOOD).with("b.csv", "no,farm\n8,x\n"));
    assertEquals(List.of(), warehouse.proofs().feed("proof", feed.into(), List.of()).differences());
    assertEquals(0, warehouse.proofs().strays(feed.into()));
    query("delete from intake.proof where no = 2");
    query("insert into intake.proof values (99, 'odd', 12345, 12345, 1)");
    FeedProof check = warehouse.proofs().feed("proof", feed.into(), List.of());
    assertEquals(1, check.differences().size());
    assertEquals("a.csv", check.differences().get(0).path());
    assertEquals(3, check.differences().get(0).inLedger());
    assertEquals(2, check.differences().get(0).inTable());
    assertEquals(1, warehouse.proofs().strays(feed.into()));
  }

  @Test
  void rejectsAreGroupedWithExamplesAndTheirFirstPlace() {
    Feed feed = dockets("grouped").tolerance("any").build();
    load(feed, new MemoryDepot().with("a.csv", DIRTY).with("b.csv", "no,farm\nx,a\nz,b\n"));
    List<ProblemGroup> groups =
        warehouse.ledger().rejects().groups(RejectChoice.open(Optional.of("grouped"))).groups();
    assertEquals(2, groups.size());
    ProblemGroup numbers = groups.get(0);
    assertEquals("no", numbers.column());
    assertEquals(RejectCode.BAD_NUMBER, numbers.code());
    assertEquals(4, numbers.count());
    assertEquals(2, numbers.paths().size());
    assertEquals("a.csv:3", numbers.first().where());
    assertEquals("b.csv:3", numbers.last().where());
    assertEquals(List.of("x", "y", "z"), numbers.values().examples(3));
    assertEquals(
        java.util.Map.of("a.csv", 5L, "b.csv", 2L),
        warehouse.ledger().rejects().rowsRead("grouped"));
    FirstReject first = warehouse.ledger().rejects().firsts("grouped").get("no bad-number");
    assertEquals(numbers.first().loadId(), first.loadId());
  }

  @Test
  void bytesThatNoTextColumnTakesAreKeptInTheLedger() {
    Feed feed = dockets("odd").tolerance("any").build();
    byte[] bytes = "no,farm\n1,a?b\n2,c?d\n".getBytes(StandardCharsets.ISO_8859_1);
    bytes[11] = (byte) 0xff;
    byte[] late = new byte[5000];
    Arrays.fill(late, (byte) '\n');
    System.arraycopy(bytes, 0, late, 0, bytes.length);
    byte[] nul = "3,e\0f\n".getBytes(StandardCharsets.ISO_8859_1);
    System.arraycopy(nul, 0, late, 4500, nul.length);
    load(feed, new MemoryDepot().with("a.csv", late));
    List<StoredReject> rejects = rejects("odd");
    assertEquals(2, rejects.size());
    assertArrayEquals(new byte[] {'1', ',', 'a', (byte) 0xff, 'b'}, rejects.get(0).reject().raw());
    assertArrayEquals(new byte[] {'3', ',', 'e', 0, 'f'}, rejects.get(1).reject().raw());
    assertEquals("e\u2400f", rejects.get(1).reject().problems().get(0).value());
  }

  @Test
  void theSchemaIsMadeOnceAndANewerOneIsLeftAlone() {
    warehouse.ledger().prepare();
    assertEquals(6, count("dusky.migration"));
    query("insert into dusky.migration values (999, 'from the future', current_timestamp)");
    try {
      Failure failure = assertThrows(Failure.class, () -> warehouse.ledger().prepare());
      assertTrue(failure.getMessage().contains("is of version 999"), failure.getMessage());
    } finally {
      query("delete from dusky.migration where version = 999");
    }
  }

  @Test
  void allRightsPassTheProbe() {
    warehouse
        .probe()
        .forEach(
            step -> {
              boolean needless = step.name().equals("engine"); // loads need none
              assertTrue(step.attempt().run().tried() || needless, step.name());
            });
    assertEquals(0, count("information_schema.schemata where schema_name = 'dusky_probe'"));
  }

  @Test
  void theJournalTellsOfEachLoad() {
    Feed feed = dockets("journal").tolerance("any").build();
    load(feed, new MemoryDepot().with("a.csv", DIRTY).with("b.csv", GOOD).with("c.csv", GOOD));
    LoadLine line = warehouse.ledger().journal().loads(JournalChoice.of("journal"), 5).get(0);
    assertEquals("done", line.state());
    assertEquals("tester", line.by());
    assertEquals(2, line.posted());
    assertEquals(1, line.twins());
    assertEquals(new Tally(11, 5, 3, 3, 0, 0), line.tally());
    assertEquals(DIRTY.length() + 2L * GOOD.length(), line.contentBytes());
    assertEquals(
        List.of("a.csv", "b.csv", "c.csv"),
        warehouse.ledger().journal().files(line.loadId()).stream().map(f -> f.path()).toList());
  }
}
