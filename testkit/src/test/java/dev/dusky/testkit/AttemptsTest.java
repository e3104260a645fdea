package dev.dusky.testkit;

import static dev.dusky.core.ledger.FileState.POSTED;
import static dev.dusky.core.ledger.FileState.REFUSED;
import static dev.dusky.core.ledger.FileState.TWIN;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.drift.Drift;
import dev.dusky.core.feed.Afterwards;
import dev.dusky.core.feed.Arrivals;
import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.RevisedPolicy;
import dev.dusky.core.feed.TwinPolicy;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.rehearse.Rehearsal;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.repeat.RepeatPolicy.Keep;
import dev.dusky.core.repeat.RepeatPolicy.Scope;
import dev.dusky.testkit.Loading.Mode;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;

/** What becomes of one file: the policies of its feed, and attempts that begin again. */
class AttemptsTest {

  private static FeedBuilder numbers() {
    return new FeedBuilder("numbers").column("no", "bigint not null").column("v", "varchar(9)");
  }

  private static Loading loading(Feed feed, MemoryDepot depot) {
    return new Loading(feed, depot, Mode.ONE_BY_ONE);
  }

  private static Feed repeats(Feed feed, RepeatPolicy policy) {
    return feed.withPolicies(feed.policies().withRepeats(policy));
  }

  @Test
  void revisedFilesAreHaltedReplacedAppendedOrIgnored() {
    for (RevisedPolicy policy : RevisedPolicy.values()) {
      Feed feed = numbers().arrivals(Arrivals.DEFAULT.withRevised(policy)).build();
      Loading loading = loading(feed, new MemoryDepot().with("a", "no,v\n1,x\n2,x\n"));
      loading.run();
      loading.depot.with("a", "no,v\n2,x\n3,y\n4,y\n");
      LoadResult result = loading.run();
      assertEquals(List.of(), loading.wrong(), policy.toString());
      int rows =
          switch (policy) {
            case HALT, IGNORE -> 2;
            case REPLACE -> 3;
            case APPEND -> 5;
          };
      assertEquals(rows, loading.rows().size(), policy.toString());
      assertEquals(policy == RevisedPolicy.IGNORE ? 1 : 0, result.aside().ignored());
      assertEquals(policy != RevisedPolicy.HALT, result.clean(), policy.toString());
      assertTrue(loading.run().idle() || policy == RevisedPolicy.HALT, policy.toString());
    }
  }

  @Test
  void twinsAreSkippedLoadedOrHalted() {
    for (TwinPolicy policy : TwinPolicy.values()) {
      Feed feed = numbers().arrivals(Arrivals.DEFAULT.withTwins(policy)).build();
      Loading loading =
          loading(feed, new MemoryDepot().with("a", "no,v\n1,x\n").with("b", "no,v\n1,x\n"));
      loading.run();
      FileState state =
          switch (policy) {
            case SKIP -> TWIN;
            case LOAD -> POSTED;
            case HALT -> REFUSED;
          };
      assertEquals(Map.of("a", FileState.POSTED, "b", state), loading.states());
      assertEquals(List.of(), loading.wrong());
    }
  }

  @Test
  void aFileIsLoadedAgainOnPurposeAndReplacesItsRows() {
    Loading loading = loading(numbers().build(), new MemoryDepot().with("a", "no,v\n1,x\n"));
    loading.run();
    List<String> before = loading.rows();
    LoadResult result = loading.again("a");
    assertEquals(1, result.count(FileState.POSTED));
    assertEquals(before, loading.rows());
    assertEquals(2, loading.warehouse.tables().rows(loading.feed.into()).get(0).load());
  }

  @Test
  void aTableGrowsForAFileAndAFileIsRefusedIfItCannot() {
    DriftPolicy extend = new DriftPolicy(DriftPolicy.Fields.EXTEND, true, 2);
    for (boolean rigid : new boolean[] {false, true}) {
      Feed feed = numbers().drift(extend).layout(header()).build();
      MemoryDepot depot =
          new MemoryDepot().with("a", "no,v\n1,x\n").with("b", "no,v,extra\n2,y,7\n");
      Loading loading = loading(feed, depot);
      loading.run(run -> run.withSelection(java.util.Optional.empty()));
      if (rigid) {
        loading = loading(feed, depot);
        loading.warehouse.tables().rigid();
        loading.run();
      }
      assertEquals(List.of(), loading.wrong());
      assertEquals(rigid ? FileState.REFUSED : FileState.POSTED, loading.states().get("b"));
      Drift drift = loading.results.get(1).drifts().get(0);
      assertEquals(rigid ? Drift.Action.REFUSED : Drift.Action.EXTENDED, drift.action());
      if (!rigid) {
        assertEquals("b:1 {no=2, v=y, extra=7}", loading.rows().get(1));
        depot.with("c", "no,v,extra\n3,z,8\n").with("d", "no,v,e2,e3,e4\n3,z,8,8,8\n");
        loading.run();
        assertEquals("c:1 {no=3, v=z, extra=8}", loading.rows().get(2));
        assertEquals(FileState.REFUSED, loading.states().get("d"), "more columns than allowed");
      }
    }
  }

  private static DelimitedLayout header() {
    return DelimitedLayout.plain("csv");
  }

  /** The first row of each key, over files or within one, by a plain model. */
  @Test
  void repeatsAreRemovedAsAModelDoes() {
    for (int seed = 0; seed < 40; seed++) {
      Random random = new Random(seed);
      Scope scope = Scope.values()[seed % 3];
      RepeatPolicy policy = new RepeatPolicy(true, List.of("no"), scope, Keep.FIRST, List.of(), 1);
      MemoryDepot depot = new MemoryDepot();
      Loading loading = loading(repeats(numbers().build(), policy), depot);
      Set<String> expected = new TreeSet<>();
      Set<Integer> inTable = new TreeSet<>();
      for (int load = 0; load < 2; load++) {
        Set<Integer> seen = new TreeSet<>(scope == Scope.TABLE ? inTable : Set.of());
        for (int file = 0; file < 3; file++) {
          if (scope == Scope.FILE) {
            seen.clear();
          }
          StringBuilder text = new StringBuilder("no,v\n");
          for (int row = 1; row <= 8; row++) {
            int no = random.nextInt(12);
            text.append(no).append(",l").append(load).append('f').append(file).append('\n');
            if (seen.add(no)) {
              expected.add("%d%d:%d".formatted(load, file, row));
              inTable.add(no);
            }
          }
          depot.with("%d%d".formatted(load, file), text.toString());
        }
        loading.run();
      }
      Set<String> found = new TreeSet<>();
      loading.rows().forEach(row -> found.add(row.substring(0, row.indexOf(' '))));
      assertEquals(expected, found, scope + " " + seed);
      assertEquals(List.of(), loading.wrong());
    }
  }

  @Test
  void whatMemoryDoesNotHoldIsSurveyedFirst() {
    StringBuilder text = new StringBuilder("no,v\n");
    int rows = 60_000;
    for (int i = 0; i < rows; i++) {
      text.append(i % (rows - 5)).append(",x\n");
    }
    for (Scope scope : Scope.values()) {
      RepeatPolicy small = new RepeatPolicy(true, List.of("no"), scope, Keep.FIRST, List.of(), 1);
      MemoryDepot depot = new MemoryDepot().with("a", text.toString());
      Loading loading = loading(repeats(numbers().build(), small), depot);
      LoadResult result = loading.run();
      assertEquals(rows - 5, result.tally().loaded(), scope.toString());
      assertEquals(5, result.tally().duplicate(), scope.toString());
      assertEquals(3, depot.opened("a"), "tried, surveyed, loaded");
    }
  }

  @Test
  void aRowThatTheTableRefusesStandsForNoOther() {
    RepeatPolicy policy =
        new RepeatPolicy(true, List.of("no"), Scope.FILE, Keep.FIRST, List.of(), 1);
    Feed feed = repeats(numbers().tolerance("any").build(), policy);
    Loading loading =
        loading(feed, new MemoryDepot().with("a", "no,v\n1,bad\n1,good\n1,late\n2,good\n"));
    loading.warehouse.tables().refuse(values -> "bad".equals(values.get("v")));
    LoadResult result = loading.run();
    assertEquals(2, result.tally().loaded());
    assertEquals(1, result.tally().rejected());
    assertEquals(1, result.tally().duplicate());
    assertTrue(loading.rows().get(0).contains("v=good"));
  }

  @Test
  void aFileWhoseRepeatsAreAllRefusedIsGivenUpAfterSomeTries() {
    RepeatPolicy policy =
        new RepeatPolicy(true, List.of("no"), Scope.FILE, Keep.FIRST, List.of(), 1);
    Feed feed = repeats(numbers().tolerance("any").build(), policy);
    StringBuilder text = new StringBuilder("no,v\n");
    for (int i = 0; i < 40; i++) {
      text.append("1,bad").append(i).append('\n');
    }
    Loading loading = loading(feed, new MemoryDepot().with("a", text.toString()));
    loading.warehouse.tables().refuse(values -> values.get("v").startsWith("bad"));
    loading.run();
    assertEquals(FileState.REFUSED, loading.states().get("a"));
    assertTrue(
        loading.results.get(0).message().contains("repeated rows that the table refuses"),
        loading.results.get(0).message());
  }

  @Test
  void postedFilesAreArchivedAndOneThatCannotBeStaysDue() {
    Feed feed =
        numbers()
            .files("in/*")
            .arrivals(Arrivals.DEFAULT.withAfterwards(new Afterwards.Archive("done/")))
            .build();
    MemoryDepot depot = new MemoryDepot().with("in/a", "no,v\n1,x\n");
    Loading loading = loading(feed, depot);
    depot.immovable(true);
    loading.run();
    assertEquals(1, loading.warehouse.ledger().due(feed.name()).size());
    assertTrue(loading.remarks.get(0).contains("still in the depot"), loading.remarks.toString());
    depot.immovable(false);
    loading.run();
    assertEquals(0, loading.warehouse.ledger().due(feed.name()).size());
    assertTrue(depot.look("in/a").isEmpty());
  }

  /** What a rehearsal says is what a load does, and nothing of it stays. */
  @Test
  void aRehearsalForetellsTheLoadAndLeavesNothing() {
    for (int seed = 0; seed < 30; seed++) {
      Random random = new Random(seed);
      MemoryDepot depot = new MemoryDepot();
      for (int file = 0; file < 6; file++) {
        StringBuilder text = new StringBuilder("no,v\n");
        for (int row = random.nextInt(5); row > 0; row--) {
          text.append(random.nextInt(6) == 0 ? "x" : random.nextInt(9)).append(",b\n");
        }
        depot.with("f" + file, text.toString());
      }
      RepeatPolicy policy =
          new RepeatPolicy(true, List.of("no"), Scope.TABLE, Keep.FIRST, List.of(), 1);
      Loading loading = loading(repeats(numbers().tolerance("1").build(), policy), depot);
      if (seed % 2 == 0) {
        depot.with("early", "no,v\n1,a\n2,a\n");
        loading.run();
      }
      Map<String, FileState> states = loading.states();
      List<String> rows = loading.rows();
      Map<String, String> foretold = new TreeMap<>();
      List<String> told = new ArrayList<>();
      Rehearsal rehearsal =
          new Rehearsal(loading.warehouse.ledger(), loading.warehouse.tables(), false);
      new FeedLoader(
              rehearsal.ledger((file, outcome, rejects) -> told.add(file.path())),
              rehearsal.tables(),
              LoadRun.of(
                  loading.feed,
                  depot,
                  new LoadListener() {
                    @Override
                    public void finished(dev.dusky.core.load.FileResult result) {
                      foretold.put(result.file().path(), result.state() + " " + result.tally());
                    }
                  },
                  () -> false))
          .run(Loading.start(loading.feed));
      assertEquals(states, loading.states(), "nothing was entered");
      assertEquals(rows, loading.rows(), "nothing was written");
      loading.results.clear();
      loading.run();
      Map<String, String> done = new TreeMap<>();
      loading.results.forEach(r -> done.put(r.file().path(), r.state() + " " + r.tally()));
      assertEquals(done, foretold, "seed " + seed);
      assertEquals(List.copyOf(new TreeSet<>(foretold.keySet())), told.stream().sorted().toList());
    }
  }
}
