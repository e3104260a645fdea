package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.balance.FeedProof;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.drift.Drift;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Arrivals;
import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.Readiness;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.Reversed;
import dev.dusky.core.load.FileResult;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.load.RetryPolicy;
import dev.dusky.core.load.Selection;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;

/** Loads whose files take the place of what the table holds. */
abstract class ReplaceContract extends WarehouseTesting {

  private static FeedBuilder numbers(String name) {
    return new FeedBuilder(name).column("no", "bigint not null");
  }

  private List<Long> rows(String table) {
    return query("select no from intake." + table + " order by no").stream()
        .map(row -> (Long) row.get(0))
        .toList();
  }

  private void proven(Feed feed) {
    FeedProof proof = warehouse.proofs().feed(feed.name(), feed.into(), List.of());
    assertEquals(List.of(), proof.differences());
    assertEquals(List.of(), proof.contradictions());
    assertEquals(0, warehouse.proofs().strays(feed.into()));
    assertEquals(proof.tally().loaded(), proof.tableRows());
  }

  private Reversed reverse(Feed feed, long load) {
    return warehouse.reversals().load(start(feed), feed.into(), load, false, "reversed");
  }

  /** Of each path what is in the table, as loads, refusals and reversals leave it. */
  private static final class Model {
    private final Map<String, List<Long>> posted = new TreeMap<>();
    private Map<String, List<Long>> before;

    List<Long> all() {
      return posted.values().stream().flatMap(List::stream).sorted().toList();
    }
  }

  /** Random days of arrivals, some of them bad, and reversals, against a model. */
  private void compareWithModel(Feed feed, boolean slices, long seed) {
    Random random = new Random(seed);
    MemoryDepot depot = new MemoryDepot();
    Model model = new Model();
    long number = 0;
    long reversible = 0;
    for (int step = 0; step < files(25); step++) {
      if (reversible > 0 && random.nextInt(4) == 0) {
        Reversed reversed = reverse(feed, reversible);
        reversed.files().forEach(depot::remove);
        model.posted.clear();
        model.posted.putAll(model.before);
        reversible = 0;
      } else {
        Map<String, List<Long>> files = new TreeMap<>();
        boolean bad = random.nextInt(5) == 0;
        for (int i = random.nextInt(3); i >= 0; i--) {
          List<Long> values = new ArrayList<>();
          for (int n = random.nextInt(4); n >= 0; n--) {
            values.add(++number);
          }
          String path = "day" + random.nextInt(3) + "/" + step + "-" + i + ".csv";
          files.put(path, values);
          StringBuilder text = new StringBuilder("no\n");
          values.forEach(value -> text.append(value).append('\n'));
          depot.with(path, text + (bad && i == 0 ? "x\n" : ""));
        }
        LoadResult result = load(feed, depot);
        assertEquals(bad ? files.size() : 0, result.count(FileState.REFUSED), "step " + step);
        if (bad) {
          files.keySet().forEach(depot::remove);
        } else {
          model.before = new TreeMap<>(model.posted);
          model
              .posted
              .keySet()
              .removeIf(
                  old ->
                      !slices
                          || files.keySet().stream()
                              .anyMatch(now -> now.startsWith(old.substring(0, 5))));
          assertEquals(model.before.size() - model.posted.size(), result.replaced().files());
          model.posted.putAll(files);
          reversible = result.loadId();
        }
      }
      assertEquals(model.all(), rows(feed.name()), "step " + step);
      proven(feed);
    }
    LoadResult idle = load(feed, depot);
    assertTrue(idle.idle(), "what was replaced does not come again: " + idle);
  }

  @Test
  void theTableIsWhatTheLastLoadBroughtWhateverComes() {
    compareWithModel(numbers("whole").replacing(100).build(), false, 1);
  }

  @Test
  void onlyTheSlicesThatFilesNameAreReplaced() {
    compareWithModel(numbers("sliced").files("{day}/*.csv").replacing(100, "day").build(), true, 2);
  }

  @Test
  void aTableThatWouldShrinkTooMuchStays() {
    Feed feed = numbers("shrinks").files("{day}/*").replacing(50, "day").build();
    MemoryDepot depot =
        new MemoryDepot().with("a/1.csv", "no\n1\n2\n3\n").with("b/1.csv", "no\n4\n5\n6\n");
    load(feed, depot);
    depot.with("a/2.csv", "no\n7\n8\n9\n10\n").with("b/2.csv", "no\n11\n");
    List<FileResult> results = new ArrayList<>();
    LoadResult refused = load(warehouse, feed, depot, results);
    assertEquals(2, refused.count(FileState.REFUSED));
    assertTrue(
        results.get(0).message().startsWith("the slice day b would shrink from 3 to 1 rows"),
        results.get(0).message());
    assertEquals(List.of(1L, 2L, 3L, 4L, 5L, 6L), rows("shrinks"));
    proven(feed);
    depot.with("b/3.csv", "no\n12\n");
    assertTrue(load(feed, depot).clean(), "two of three rows is half and more");
    assertEquals(List.of(7L, 8L, 9L, 10L, 11L, 12L), rows("shrinks"));
    proven(feed);
  }

  @Test
  void rowsThatTheLedgerDoesNotKnowAreReplacedAndRestoredToo() {
    Feed feed = numbers("strays").replacing(100).build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", "no\n1\n");
    load(feed, depot);
    query("insert into intake.strays values (77, 0, 0, 0)");
    LoadResult result = load(feed, depot.with("b.csv", "no\n2\n"));
    assertEquals(2, result.replaced().rows());
    assertEquals(List.of(2L), rows("strays"));
    assertEquals(2, reverse(feed, result.loadId()).restored());
    assertEquals(List.of(1L, 77L), rows("strays"));
  }

  @Test
  void twinsCountWithinALoadAndRevisedFilesAreLikeNewOnes() {
    Feed feed = numbers("twins").replacing(100).build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", "no\n1\n").with("b.csv", "no\n1\n");
    assertEquals(1, load(feed, depot).count(FileState.TWIN));
    depot.with("a.csv", "no\n5\n").with("c.csv", "no\n1\n");
    LoadResult again = load(feed, depot);
    assertEquals(2, again.count(FileState.POSTED), "the content before is no longer there");
    assertEquals(List.of(1L, 5L), rows("twins"));
    proven(feed);
    reverse(feed, again.loadId());
    assertEquals(List.of(1L), rows("twins"));
    proven(feed);
  }

  @Test
  void onlyTheLastReplacementIsKept() {
    Feed feed = numbers("kept").replacing(100).build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", "no\n1\n");
    load(feed, depot);
    long second = load(feed, depot.with("b.csv", "no\n2\n")).loadId();
    long third = load(feed, depot.with("c.csv", "no\n3\n")).loadId();
    reverse(feed, third);
    depot.remove("c.csv");
    assertEquals(List.of(2L), rows("kept"));
    Failure failure = assertThrows(Failure.class, () -> reverse(feed, second));
    assertTrue(failure.getMessage().contains("no longer kept"), failure.getMessage());
    assertEquals(List.of(2L), rows("kept"));
    proven(feed);
    String kept =
        "select count(*) from information_schema.tables where table_schema = 'dusky'"
            + " and table_name = 'before_%d'";
    assertEquals(List.of(List.of(0L)), query(kept.formatted(second)));
    assertEquals(List.of(List.of(0L)), query(kept.formatted(third)));
  }

  @Test
  void aRehearsalSaysWhatWouldBeReplacedAndChangesNothing() {
    Feed feed = numbers("trial").replacing(50).build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", "no\n1\n2\n3\n");
    load(feed, depot);
    depot.with("b.csv", "no\n4\n5\n");
    assertEquals(3, rehearsed(feed, depot).replaced().rows());
    depot.with("b.csv", "no\n4\n");
    assertEquals(1, rehearsed(feed, depot).count(FileState.REFUSED));
    assertEquals(List.of(1L, 2L, 3L), rows("trial"));
    proven(feed);
    long tables = count("information_schema.tables where table_name like 'before%'");
    assertEquals(0, tables - count("information_schema.tables where table_name like 'before_%'"));
  }

  private LoadResult rehearsed(Feed feed, MemoryDepot depot) {
    LoadListener listener = new LoadListener() {};
    return rehearsing(
            warehouse,
            (file, outcome, rejects) -> {},
            LoadRun.of(feed, depot, listener, () -> false))
        .run(start(feed));
  }

  @Test
  void whatOnlyTheTableRefusesLeavesTheOldContent() {
    needsRules();
    load(numbers("first").build(), new MemoryDepot().with("a.csv", "no\n1\n"));
    execute(
        "create table intake.ruled (no bigint check (no <> 13), dusky_load bigint,"
            + " dusky_file bigint, dusky_row bigint)");
    Feed feed = numbers("ruled").existing().replacing(100).build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", "no\n1\n");
    load(feed, depot);
    depot.with("b.csv", "no\n2\n").with("c.csv", "no\n3\n13\n").with("d.csv", "no\n4\n");
    List<FileResult> results = new ArrayList<>();
    load(warehouse, feed, depot, results);
    assertEquals(3, results.size());
    assertTrue(results.get(0).message().contains("c.csv of the same load"), "" + results.get(0));
    assertEquals(1, rejects("ruled").size());
    assertEquals(List.of(1L), rows("ruled"));
    proven(feed);
    depot.with("c.csv", "no\n3\n");
    assertTrue(load(feed, depot).clean());
    assertEquals(List.of(2L, 3L, 4L), rows("ruled"));
    proven(feed);
  }

  @Test
  void theTableGrowsForAFileAndAllIsReadAgain() {
    Feed feed =
        numbers("grows").replacing(100).drift(DriftPolicy.of(DriftPolicy.Fields.EXTEND)).build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", "no\n1\n");
    load(feed, depot);
    depot.with("b.csv", "no\n2\n").with("c.csv", "no,more\n3,x\n");
    List<FileResult> results = new ArrayList<>();
    LoadResult grown = load(warehouse, feed, depot, results);
    assertEquals(List.of(2L, 3L), rows("grows"), results.toString());
    assertEquals(Drift.Action.EXTENDED, results.get(1).drifts().get(0).action());
    proven(feed);
    reverse(feed, grown.loadId());
    assertEquals(List.of(1L), rows("grows"));
    proven(feed);
  }

  @Test
  void nothingIsLoadedWhileAFileIsIncompleteOrAllWaitForAPerson() {
    Feed feed =
        numbers("waits")
            .replacing(100)
            .arrivals(
                Arrivals.DEFAULT.withReady(
                    new Readiness(Duration.ZERO, Optional.of("{path}.done"))))
            .files("*.csv")
            .build();
    MemoryDepot depot =
        new MemoryDepot().with("a.csv", "no\n1\n").with("a.csv.done", "").with("b.csv", "no\nx\n");
    LoadResult unready = load(feed, depot);
    assertEquals(2, unready.aside().unready());
    assertTrue(unready.idle());
    depot.with("b.csv.done", "");
    assertEquals(2, load(feed, depot).count(FileState.REFUSED));
    RetryPolicy patience = RetryPolicy.lasting(System::nanoTime);
    LoadRun watching =
        LoadRun.of(feed, depot, new LoadListener() {}, () -> false).withRetries(patience);
    assertEquals(2, loading(watching, feed).aside().stuck());
    depot.with("b.csv", "no\n2\n");
    assertEquals(2, loading(watching, feed).count(FileState.POSTED), "both are taken again");
    assertEquals(List.of(1L, 2L), rows("waits"));
  }

  private LoadResult loading(LoadRun run, Feed feed) {
    return new dev.dusky.core.load.FeedLoader(warehouse.ledger(), warehouse.tables(), run)
        .run(start(feed));
  }

  @Test
  void aFileIsNotLoadedAgainOnPurpose() {
    Feed feed = numbers("again").replacing(100).build();
    MemoryDepot depot = new MemoryDepot().with("a.csv", "no\n1\n");
    load(feed, depot);
    StagedFile file = depot.look("a.csv").orElseThrow();
    LoadRun again =
        LoadRun.of(feed, depot, new LoadListener() {}, () -> false)
            .withSelection(Optional.of(Selection.again(file)));
    Failure failure = assertThrows(Failure.class, () -> loading(again, feed));
    assertEquals(Failure.Kind.USAGE, failure.kind());
    assertEquals(List.of(1L), rows("again"));
  }
}
