package dev.dusky.testkit;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.load.FileResult;
import dev.dusky.core.load.LoadResult;
import dev.dusky.testkit.Loading.Mode;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Whatever the schedule, and whatever fails meanwhile, the result of loading is the same. */
class SchedulingTest {

  private static Feed feed() {
    return new FeedBuilder("dockets")
        .column("no", "bigint not null")
        .column("farm", "varchar(8)")
        .tolerance("2")
        .build();
  }

  /** Some files: good, with rejects, beyond tolerance, without rows, equal to others. */
  private static MemoryDepot depot(Random random, int files) {
    MemoryDepot depot = new MemoryDepot();
    List<String> texts = new ArrayList<>();
    for (int i = 0; i < files; i++) {
      boolean twin = !texts.isEmpty() && random.nextInt(4) == 0;
      texts.add(twin ? texts.get(random.nextInt(texts.size())) : text(random));
      depot.with("day/%02d.csv".formatted(i), texts.get(i));
    }
    return depot;
  }

  private static String text(Random random) {
    StringBuilder text = new StringBuilder("no,farm\n");
    int bad = random.nextInt(5);
    for (int rows = random.nextInt(6); rows > 0; rows--) {
      text.append(random.nextInt(1_000)).append(",WF").append(random.nextInt(9)).append('\n');
    }
    for (; bad > 1; bad--) {
      text.append("x").append(random.nextInt(1_000)).append(",WF1\n");
    }
    return text.toString();
  }

  @Test
  void allSchedulesComeToTheSameResult() {
    for (int seed = 0; seed < 15; seed++) {
      Map<Mode, Loading> all = new EnumMap<>(Mode.class);
      Map<Mode, LoadResult> results = new EnumMap<>(Mode.class);
      for (Mode mode : Mode.values()) {
        Loading loading = new Loading(feed(), depot(new Random(seed), 14), mode);
        all.put(mode, loading);
        results.put(mode, loading.run());
        assertEquals(List.of(), loading.wrong(), mode + " " + seed);
        assertEquals(
            loading.results.stream().map(r -> r.file().path()).sorted().toList(),
            loading.results.stream().map(r -> r.file().path()).toList(),
            "results come in the order of the files");
      }
      Loading model = all.get(Mode.ONE_BY_ONE);
      for (Mode mode : Mode.values()) {
        assertEquals(model.states(), all.get(mode).states(), mode + " " + seed);
        assertEquals(model.rows(), all.get(mode).rows(), mode + " " + seed);
        LoadResult expected = results.get(Mode.ONE_BY_ONE);
        assertEquals(expected.tally(), results.get(mode).tally(), mode + " " + seed);
        assertEquals(expected.refused(), results.get(mode).refused(), mode + " " + seed);
        assertEquals(expected.files(), results.get(mode).files(), mode + " " + seed);
      }
    }
  }

  @ParameterizedTest
  @EnumSource(Mode.class)
  void aFailureAtAnyStepLeavesWholeFilesAndTheNextLoadDoesTheRest(Mode mode) {
    Loading undisturbed = new Loading(feed(), depot(new Random(7), 7), mode);
    undisturbed.run();
    long steps = undisturbed.warehouse.faults().steps();
    assertTrue(steps > 40, steps + " steps");
    for (boolean always : new boolean[] {false, true}) {
      for (long step = 1; step <= steps; step++) {
        Loading loading = new Loading(feed(), depot(new Random(7), 7), mode);
        loading.warehouse.faults().failAt(step, always);
        try {
          loading.run();
        } catch (Failure failure) {
          assertTrue(failure.getMessage().contains(" failed at step "), failure.getMessage());
        }
        loading.warehouse.faults().clear();
        loading.warehouse.ledger().recover();
        assertEquals(List.of(), loading.wrong(), mode + " at step " + step);
        loading.run();
        assertEquals(List.of(), loading.wrong(), mode + " after step " + step);
        assertEquals(undisturbed.states(), loading.states(), mode + " after step " + step);
        assertEquals(undisturbed.rows(), loading.rows(), mode + " after step " + step);
      }
    }
  }

  @ParameterizedTest
  @EnumSource(Mode.class)
  void nothingBehindAFailureIsCommitted(Mode mode) {
    MemoryDepot depot = new MemoryDepot();
    for (int i = 0; i < 8; i++) {
      depot.with("%d.csv".formatted(i), "no,farm\n" + i + ",WF1\n");
    }
    Loading loading = new Loading(feed(), depot, mode);
    int[] opened = {0};
    depot.beforeOpening(
        () -> {
          if (++opened[0] == 4) {
            throw Failure.depot("the line is dead");
          }
        });
    Failure failure = null;
    try {
      loading.run();
    } catch (Failure met) {
      failure = met;
    }
    assertEquals(List.of(), loading.wrong());
    List<String> posted = new ArrayList<>();
    loading
        .states()
        .forEach(
            (path, state) -> posted.addAll(state == FileState.POSTED ? List.of(path) : List.of()));
    for (int i = 0; i < posted.size(); i++) {
      assertEquals(i + ".csv", posted.get(i), "only what came before the failure is posted");
    }
    assertTrue(mode == Mode.TOGETHER || failure != null, "a depot that fails ends the load");
    loading.run();
    assertEquals(8, loading.rows().size());
    assertEquals(List.of(), loading.wrong());
  }

  @ParameterizedTest
  @EnumSource(Mode.class)
  void aConflictOfTransactionsIsTriedAgain(Mode mode) {
    Loading undisturbed = new Loading(feed(), depot(new Random(3), 6), mode);
    undisturbed.run();
    long steps = undisturbed.warehouse.faults().steps();
    int passed = 0;
    for (long step = 1; step <= steps; step++) {
      Loading loading = new Loading(feed(), depot(new Random(3), 6), mode);
      loading.warehouse.faults().conflictAt(step);
      try {
        loading.run();
        passed++;
        assertEquals(undisturbed.rows(), loading.rows(), mode + " at step " + step);
      } catch (Failure failure) {
        assertTrue(failure.passing());
      }
      loading.warehouse.faults().clear();
      loading.warehouse.ledger().recover();
      loading.run();
      assertEquals(List.of(), loading.wrong(), mode + " after step " + step);
      assertEquals(undisturbed.rows(), loading.rows(), mode + " after step " + step);
    }
    assertTrue(mode == Mode.TOGETHER || passed > steps / 3, passed + " of " + steps);
  }

  @ParameterizedTest
  @EnumSource(Mode.class)
  void aLoadThatIsStoppedIsInterruptedAndKeepsWholeFiles(Mode mode) {
    for (int stopAfter = 0; stopAfter < 12; stopAfter++) {
      Loading loading = new Loading(feed(), depot(new Random(5), 9), mode);
      int[] left = {stopAfter};
      try {
        loading.run(
            run ->
                dev.dusky.core.load.LoadRun.of(
                    loading.feed, loading.depot, run.listener(), () -> left[0]-- <= 0));
      } catch (Failure failure) {
        assertEquals(Failure.Kind.INTERRUPTED, failure.kind());
        assertTrue(loading.warehouse.ledger().loads().containsValue(LoadState.INTERRUPTED));
      }
      assertEquals(List.of(), loading.wrong(), mode + " stopped after " + stopAfter);
    }
  }

  @Test
  void aFileThatAnotherLoadHoldsIsLeftToIt() {
    Loading loading = new Loading(feed(), depot(new Random(1), 3), Mode.ONE_BY_ONE);
    loading.warehouse.tables().create(loading.feed.into(), loading.feed.columns());
    var other = loading.warehouse.ledger().begin(Loading.start(loading.feed), loading.feed);
    var held =
        other.claim(loading.depot.look("day/00.csv").orElseThrow(), java.util.Optional.empty());
    LoadResult result = loading.run();
    assertEquals(1, result.claimed());
    assertEquals(FileState.WAITING, loading.states().get("day/00.csv"));
    held.orElseThrow().close();
    loading.run();
    assertTrue(loading.states().get("day/00.csv") != FileState.WAITING);
  }

  @Test
  void aPausedFeedIsLeftAlone() {
    Loading loading = new Loading(feed(), depot(new Random(1), 3), Mode.TOGETHER);
    loading.warehouse.ledger().pause(java.util.Optional.of("paused by tester"));
    LoadResult result = loading.run();
    assertEquals("paused by tester", result.aside().pause().orElseThrow());
    assertEquals(Map.of(), loading.states());
  }

  @Test
  void aTableThatIsMissingOrDoesNotFitStopsTheLoadBeforeAFileIsRead() {
    Feed missing = new FeedBuilder("none").column("no", "bigint").existing().build();
    MemoryDepot depot = depot(new Random(1), 2);
    Loading loading = new Loading(missing, depot, Mode.TOGETHER);
    Failure failure = assertThrows(Failure.class, loading::run);
    assertTrue(failure.getMessage().contains("does not exist"), failure.getMessage());
    loading
        .warehouse
        .tables()
        .create(missing.into(), new FeedBuilder("none").column("no", "smallint").build().columns());
    Failure unfit = assertThrows(Failure.class, loading::run);
    assertTrue(unfit.getMessage().contains("does not fit"), unfit.getMessage());
    assertEquals(0, depot.opened("day/00.csv"));
    assertEquals(List.<FileResult>of(), loading.results);
  }
}
