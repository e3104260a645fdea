package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.feed.Arrivals;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.TwinPolicy;
import dev.dusky.core.load.FileResult;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.repeat.RepeatPolicy.Keep;
import dev.dusky.core.repeat.RepeatPolicy.Scope;
import dev.dusky.core.tally.Tally;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Repeats, compared with what one would leave out by hand. */
abstract class RepeatContract extends WarehouseTesting {

  private record Line(String file, int number, Integer k, Integer v, Integer sent) {
    String text() {
      return "%s,%s,%s".formatted(shown(k), shown(v), shown(sent));
    }

    private static String shown(Integer value) {
      return value == null ? "" : value.toString();
    }
  }

  private static Feed feed(String name, RepeatPolicy policy) {
    Feed feed =
        new FeedBuilder(name)
            .column("k", "integer")
            .column("v", "integer")
            .column("sent", "integer")
            .build();
    return feed.withPolicies(feed.policies().withRepeats(policy));
  }

  private static MemoryDepot depot(List<Line> lines) {
    Map<String, StringBuilder> texts = new HashMap<>();
    for (Line line : lines) {
      texts
          .computeIfAbsent(line.file(), f -> new StringBuilder("k,v,sent\n"))
          .append(line.text())
          .append('\n');
    }
    MemoryDepot depot = new MemoryDepot();
    texts.forEach((file, text) -> depot.with(file, text.toString()));
    return depot;
  }

  private static List<Line> lines(Random random, String prefix, int files, int each, int keys) {
    List<Line> lines = new ArrayList<>();
    for (int f = 0; f < files; f++) {
      for (int i = 1; i <= each; i++) {
        Integer k = random.nextInt(20) == 0 ? null : random.nextInt(keys);
        Integer sent = random.nextInt(10) == 0 ? null : random.nextInt(5);
        lines.add(new Line(prefix + f + ".csv", i, k, random.nextInt(3), sent));
      }
    }
    return lines;
  }

  /** For each line that is left out the one that is kept in its stead. */
  private static Map<Line, Line> left(List<Line> lines, RepeatPolicy policy) {
    Map<Object, List<Line>> groups = new HashMap<>();
    for (Line line : lines) {
      Object same = policy.key().isEmpty() ? line.text() : line.k() == null ? line : line.k();
      Object group = policy.scope() == Scope.FILE ? List.of(line.file(), same) : same;
      groups.computeIfAbsent(group, g -> new ArrayList<>()).add(line);
    }
    Map<Line, Line> left = new HashMap<>();
    for (List<Line> group : groups.values()) {
      Line kept =
          switch (policy.keep()) {
            case FIRST -> group.get(0);
            case LAST -> group.get(group.size() - 1);
            case LATEST ->
                group.stream()
                    .sorted(
                        Comparator.comparing(
                            Line::sent,
                            Comparator.nullsLast(Comparator.<Integer>naturalOrder().reversed())))
                    .findFirst()
                    .orElseThrow();
          };
      group.stream().filter(line -> line != kept).forEach(line -> left.put(line, kept));
    }
    return left;
  }

  private void check(Feed feed, List<Line> lines, Map<Line, Line> left) {
    assertEquals(
        lines.stream()
            .filter(line -> !left.containsKey(line))
            .map(line -> line.file() + " " + line.number())
            .toList(),
        query(
                "select f.path, r.dusky_row from %s r join dusky.file f on f.file_id = r.dusky_file"
                        .formatted(feed.into())
                    + " order by f.path, r.dusky_row")
            .stream()
            .map(row -> row.get(0) + " " + row.get(1))
            .toList());
    Map<String, String> told = new HashMap<>();
    query(
            "select path, first_record, row_count, kept_path, kept_record from dusky.repeat_detail"
                + " where feed = '"
                + feed.name()
                + "'")
        .forEach(
            row -> {
              for (long i = 0; i < ((Number) row.get(2)).longValue(); i++) {
                told.put(
                    row.get(0) + " " + (((Number) row.get(1)).longValue() + i),
                    row.get(3) + " " + (((Number) row.get(4)).longValue() + i));
              }
            });
    Map<String, String> expected = new HashMap<>();
    left.forEach(
        (line, kept) ->
            expected.put(line.file() + " " + line.number(), kept.file() + " " + kept.number()));
    assertEquals(expected, told);
  }

  @ParameterizedTest
  @CsvSource({
    "file,first,row,256", "file,last,key,256", "file,latest,key,256", "load,first,key,256",
    "load,first,row,256", "table,first,key,256", "table,first,row,256", "file,first,key,1",
    "load,first,key,1", "table,first,key,1"
  })
  void whatIsLeftOutIsWhatOneWouldLeaveOut(String scope, String keep, String same, int memory) {
    RepeatPolicy policy =
        new RepeatPolicy(
            true,
            same.equals("key") ? List.of("k") : List.of(),
            Scope.valueOf(scope.toUpperCase(java.util.Locale.ROOT)),
            Keep.valueOf(keep.toUpperCase(java.util.Locale.ROOT)),
            keep.equals("latest") ? List.of("sent") : List.of(),
            memory);
    Feed feed = feed("r_%s_%s_%s_%d".formatted(scope, keep, same, memory), policy);
    boolean spills = memory == 1;
    Random random = new Random(feed.name().hashCode());
    int each = spills ? 20_000 : 300;
    List<Line> lines = lines(random, "a", 3, each, spills ? 40_000 : 120);
    LoadResult result = load(feed, depot(lines));
    Map<Line, Line> left = left(lines, policy);
    Tally tally = result.tally();
    assertEquals(Tally.posted(lines.size(), lines.size() - left.size(), left.size(), 0, 0), tally);
    assertTrue(left.size() > 20, "too few repeats to tell: " + left.size());
    check(feed, lines, left);
    if (scope.equals("table")) {
      List<Line> more = lines(random, "b", 2, each, spills ? 40_000 : 120);
      load(feed, depot(more));
      lines.addAll(more);
      check(feed, lines, left(lines, policy));
    }
  }

  @ParameterizedTest
  @CsvSource({"4,60", "9,60", "9,6"})
  void smallFilesThatArePostedTogetherTellTheirRepeats(int files, int each) {
    RepeatPolicy policy =
        new RepeatPolicy(true, List.of("k"), Scope.FILE, Keep.FIRST, List.of(), 256);
    Feed feed = feed("together_%d_%d".formatted(files, each), policy);
    List<Line> lines = lines(new Random(files), "a", files, each, each / 3);
    LoadResult result = load(feed, depot(lines));
    Map<Line, Line> left = left(lines, policy);
    assertEquals(
        Tally.posted(lines.size(), lines.size() - left.size(), left.size(), 0, 0), result.tally());
    check(feed, lines, left);
  }

  @Test
  void exactRepeatsAreCountedAndKeptUnlessOneSaysOtherwise() {
    Feed feed = feed("counted", RepeatPolicy.COUNTED);
    List<FileResult> results = new ArrayList<>();
    MemoryDepot depot =
        new MemoryDepot().with("a.csv", "k,v,sent\n1,2,3\n1,2,3\n1,2,4\n,,\n,,\n1,2,3\n");
    LoadResult result = load(warehouse(), feed, depot, results);
    assertEquals(Tally.posted(6, 6, 0, 0), result.tally());
    assertEquals(3, result.repeatsSeen());
    assertEquals(
        3L,
        ((Number) query("select max(repeats_seen) from dusky.tally").get(0).get(0)).longValue());
    StringBuilder many = new StringBuilder("k,v,sent\n");
    for (int i = 0; i < 60_000; i++) {
      many.append(i % 50_000).append(",1,1\n");
    }
    Feed small =
        feed(
            "countedsmall",
            new RepeatPolicy(false, List.of(), Scope.FILE, Keep.FIRST, List.of(), 1));
    assertEquals(
        10_000, load(small, new MemoryDepot().with("b.csv", many.toString())).repeatsSeen());
  }

  @Test
  void rowsOfAllTypesAreKnownAgainInTheTable() {
    RepeatPolicy policy =
        new RepeatPolicy(true, List.of(), Scope.TABLE, Keep.FIRST, List.of(), 256);
    FeedBuilder builder = new FeedBuilder("alltypes");
    String[] types = {
      "boolean", "smallint", "integer", "bigint", "decimal(38,3)", "real", "double precision",
      "char(4)", "varchar(20)", "text", "date", "time", "timestamp", "timestamp with time zone",
      "uuid", "bytea"
    };
    for (int i = 0; i < types.length; i++) {
      builder.column("c" + i, types[i]);
    }
    Feed feed = builder.build();
    feed = feed.withPolicies(feed.policies().withRepeats(policy));
    StringBuilder header = new StringBuilder("c0");
    for (int i = 1; i < types.length; i++) {
      header.append(",c").append(i);
    }
    String small =
        "true,-7,100000,9000000000,-12345.678,1.5,2.25,ab,M\u00f8lle,\"two\nlines\",1969-12-31,"
            + "23:59:59.000001,1999-12-31 23:59:59.5,2026-03-02T05:46:00+02:00,"
            + "0f8fad5b-d9cb-469f-a165-70867728950e,00ff10";
    String large =
        "false,32767,-1,1,12345678901234567890123456789012345.678,-0.25,-0.0,abcd,x,y,2026-02-28,"
            + "00:00:00,1583-01-01 00:00:00,0001-01-01T00:00:00Z,"
            + "ffffffff-ffff-ffff-ffff-ffffffffffff,00";
    String nothing = ",".repeat(types.length - 1);
    String all = header + "\n" + small + "\n" + large + "\n" + nothing + "\n";
    MemoryDepot depot = new MemoryDepot().with("a.csv", all);
    assertEquals(Tally.posted(3, 3, 0, 0, 0), load(feed, depot).tally());
    String again = all + small.replace("-7", "-8") + "\n";
    depot.with("b.csv", again);
    assertEquals(Tally.posted(4, 1, 3, 0, 0), load(feed, depot).tally());
    assertEquals(
        List.of(List.of("b.csv", 1L, 3L, "a.csv", 1L)),
        query(
            "select path, first_record, row_count, kept_path, kept_record"
                + " from dusky.repeat_detail where feed = 'alltypes'"));
  }

  @Test
  void whatIsTakenOutOfTheTableIsNoOriginalAnyMore() {
    RepeatPolicy policy =
        new RepeatPolicy(true, List.of("k"), Scope.TABLE, Keep.FIRST, List.of(), 256);
    Feed feed = feed("outagain", policy);
    MemoryDepot depot = new MemoryDepot().with("a.csv", "k,v,sent\n1,1,1\n2,2,2\n");
    load(feed, depot);
    warehouse().reversals().file(start(feed), feed.into(), "a.csv", "wrong");
    depot.with("0.csv", "k,v,sent\n2,9,9\n");
    assertEquals(Tally.posted(3, 2, 1, 0, 0), load(feed, depot).tally());
    assertEquals(
        List.of(List.of("a.csv", 2L, "0.csv", 1L)),
        query(
            "select path, first_record, kept_path, kept_record from dusky.repeat_detail"
                + " where feed = 'outagain'"));
  }

  @Test
  void aRehearsalLeavesTheSameRowsOutAsTheLoad() {
    RepeatPolicy policy =
        new RepeatPolicy(true, List.of("k"), Scope.TABLE, Keep.FIRST, List.of(), 256);
    Feed feed = feed("rehearsed", policy);
    Random random = new Random(5);
    MemoryDepot depot = depot(lines(random, "a", 2, 200, 90));
    load(feed, depot);
    List<Line> more = lines(random, "b", 2, 200, 120);
    MemoryDepot second = depot(more);
    Tally foreseen =
        rehearsing(
                warehouse(),
                (file, outcome, rejects) -> {},
                dev.dusky.core.load.LoadRun.of(
                    feed, second, new dev.dusky.core.load.LoadListener() {}, () -> false))
            .run(start(feed))
            .tally();
    long rows = count("intake.rehearsed");
    Tally done = load(feed, second).tally();
    assertEquals(done, foreseen);
    assertTrue(done.duplicate() > 100, done.toString());
    assertEquals(rows + done.loaded(), count("intake.rehearsed"));
  }

  @Test
  void aRefusedFileHasNoRepeats() {
    RepeatPolicy policy =
        new RepeatPolicy(true, List.of("k"), Scope.LOAD, Keep.FIRST, List.of(), 256);
    MemoryDepot depot =
        new MemoryDepot()
            .with("a.csv", "k,v,sent\n1,1,1\nx,2,2\n")
            .with("b.csv", "k,v,sent\n1,5,5\n1,6,6\n");
    LoadResult result = load(feed("afterrefused", policy), depot);
    assertEquals(Tally.posted(2, 1, 1, 0, 0), result.tally());
    assertEquals(
        List.of(List.of("b.csv", "b.csv", 1L)),
        query(
            "select path, kept_path, kept_record from dusky.repeat_detail"
                + " where feed = 'afterrefused'"));
  }

  @Test
  void twinsAreLeftOutLoadedOrHalted() {
    MemoryDepot depot =
        new MemoryDepot().with("a.csv", "k,v,sent\n1,1,1\n").with("b.csv", "k,v,sent\n1,1,1\n");
    for (TwinPolicy policy : TwinPolicy.values()) {
      Feed feed = feed("twins" + policy.label(), RepeatPolicy.COUNTED);
      feed = feed.withPolicies(feed.policies().withArrivals(Arrivals.DEFAULT.withTwins(policy)));
      List<FileResult> results = new ArrayList<>();
      load(warehouse(), feed, depot, results);
      String expected =
          switch (policy) {
            case SKIP -> "TWIN";
            case LOAD -> "POSTED";
            case HALT -> "REFUSED";
          };
      assertEquals(expected, results.get(1).state().name());
      if (policy != TwinPolicy.LOAD) {
        assertTrue(results.get(1).message().contains("same content as a.csv"));
      }
    }
  }

  private LoadResult refusing(String name, Scope scope, Keep keep, int memory, MemoryDepot depot) {
    query("create schema if not exists intake");
    query(
        "create table intake.%s (k integer, v integer check (v < 100), sent integer,"
                .formatted(name)
            + " dusky_load bigint not null, dusky_file bigint not null, dusky_row bigint not null)");
    List<String> by = keep == Keep.LATEST ? List.of("sent") : List.of();
    Feed feed = feed(name, new RepeatPolicy(true, List.of("k"), scope, keep, by, memory));
    return load(
        feed.withPolicies(
            feed.policies()
                .withTolerance(dev.dusky.core.tally.Tolerance.parse("any").orElseThrow())),
        depot);
  }

  @Test
  void aRowThatTheTableRefusesStandsForNoOther() {
    needsRules();
    String rows = "k,v,sent\n1,500,9\n1,5,1\n1,6,2\n2,7,1\n1,700,3\n3,900,1\n3,901,2\n3,3,0\n";
    for (Keep keep : Keep.values()) {
      String name = "refused_" + keep.label();
      LoadResult result =
          refusing(name, Scope.FILE, keep, 256, new MemoryDepot().with("a.csv", rows));
      int rejected = keep == Keep.FIRST ? 3 : keep == Keep.LAST ? 1 : 4;
      assertEquals(new Tally(8, 3, 5 - rejected, rejected, 0, 0), result.tally(), keep.label());
      assertEquals(
          "[[1, %d], [2, 7], [3, 3]]".formatted(keep == Keep.FIRST ? 5 : 6),
          query("select k, v from intake." + name + " order by k").toString());
      assertEquals(
          List.of(),
          warehouse
              .proofs()
              .feed(name, new dev.dusky.core.table.TableName("intake", name), List.of())
              .contradictions());
    }
  }

  @Test
  void aRefusedRowOfOneFileStandsForNoneOfAnother() {
    needsRules();
    MemoryDepot depot =
        new MemoryDepot()
            .with("a.csv", "k,v,sent\n1,500,9\n2,2,2\n")
            .with("b.csv", "k,v,sent\n1,1,1\n2,3,3\n");
    for (Scope scope : List.of(Scope.LOAD, Scope.TABLE)) {
      for (int memory : List.of(256, 1)) {
        String name = "refused_" + scope.label() + memory;
        LoadResult result = refusing(name, scope, Keep.FIRST, memory, depot);
        assertEquals(new Tally(4, 2, 1, 1, 0, 0), result.tally(), name);
        assertEquals(
            "[[1, 1], [2, 2]]",
            query("select k, v from intake." + name + " order by k").toString());
      }
    }
  }

  @Test
  void repeatsThatAreAllRefusedAreAllRejectsOrRefuseTheFile() {
    needsRules();
    StringBuilder few = new StringBuilder("k,v,sent\n");
    StringBuilder many = new StringBuilder("k,v,sent\n");
    for (int i = 0; i < 40; i++) {
      (i < 10 ? few : many).append("1,%d,1\n".formatted(500 + i));
    }
    LoadResult all =
        refusing(
            "all_refused",
            Scope.FILE,
            Keep.FIRST,
            256,
            new MemoryDepot().with("a", few.toString()));
    assertEquals(new Tally(10, 0, 0, 10, 0, 0), all.tally());
    LoadResult stubborn =
        refusing(
            "stubborn", Scope.FILE, Keep.FIRST, 256, new MemoryDepot().with("a", many.toString()));
    assertEquals(1, stubborn.count(dev.dusky.core.ledger.FileState.REFUSED));
  }
}
