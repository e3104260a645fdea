package dev.dusky.core.repeat;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Runs of repeats against a list of single ones. */
class RepeatRunsTest {

  private static List<String> told(RepeatRuns runs) {
    List<String> told = new ArrayList<>();
    runs.forEach(
        (first, count, file, record) -> {
          for (long i = 0; i < count; i++) {
            told.add((first + i) + " of " + file + ":" + (record + i));
          }
        });
    return told;
  }

  /** Adds random records, often next to one another; gives what was added. */
  private static List<String> fill(RepeatRuns runs, long seed, int records) {
    Random random = new Random(seed);
    List<String> expected = new ArrayList<>();
    long record = 0;
    int file = 0;
    long kept = 1;
    for (int i = 0; i < records; i++) {
      boolean on = random.nextInt(3) > 0;
      record += on ? 1 : 2 + random.nextInt(5);
      file = on ? file : random.nextInt(4);
      kept = on ? kept + 1 : 1 + random.nextInt(1_000_000);
      runs.add(record, Place.of(file, kept));
      expected.add(record + " of " + file + ":" + kept);
    }
    return expected;
  }

  @ParameterizedTest
  @ValueSource(ints = {0, 1, 2, 3, 50, 5_000})
  void everyRecordIsToldOnceAndInOrder(int records) {
    try (RepeatRuns runs = new RepeatRuns()) {
      List<String> expected = fill(runs, records, records);
      assertEquals(expected, told(runs));
      assertEquals(expected, told(runs), "and again");
    }
  }

  @ParameterizedTest
  @ValueSource(ints = {0, 1, 2, 3, 50, 5_000})
  void whatWasTakenOutlivesTheFileItCameFrom(int records) {
    RepeatRuns runs = new RepeatRuns();
    List<String> expected = fill(runs, records + 99, records);
    RepeatRuns taken = runs.taken();
    assertEquals(List.of(), told(runs));
    runs.close();
    assertEquals(expected, told(taken));
    taken.close();
    taken.close();
  }

  @Test
  void neighboursOfOneFileAreOneRun() {
    try (RepeatRuns runs = new RepeatRuns()) {
      for (int i = 0; i < 1_000; i++) {
        runs.add(10 + i, Place.of(2, 500 + i));
      }
      List<Long> lengths = new ArrayList<>();
      runs.forEach((first, count, file, record) -> lengths.add(count));
      assertEquals(List.of(1_000L), lengths);
    }
  }

  @Test
  void whatIsClosedIsNotReadAnyMore() {
    RepeatRuns runs = new RepeatRuns();
    fill(runs, 5, 500);
    runs.close();
    Failure failure = assertThrows(Failure.class, () -> told(runs));
    assertTrue(failure.getMessage().contains("repeats"), failure.getMessage());
  }
}
