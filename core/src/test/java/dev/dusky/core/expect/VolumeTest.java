package dev.dusky.core.expect;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** What is unusual against a feed's own past. */
class VolumeTest {

  private static final Instant START = Instant.parse("2026-03-02T06:00:00Z");

  private static Volume file(int day, long rows, long rejected) {
    return file(day, rows, rejected, Map.of());
  }

  private static Volume file(int day, long rows, long rejected, Map<String, Long> nulls) {
    Instant at = START.plusSeconds(day * 86_400L);
    return new Volume("f" + day, at, rows, rows * 40, rejected, rows - rejected, nulls);
  }

  private static List<Volume> past(Random random, int files, int usual, int spread) {
    List<Volume> past = new ArrayList<>();
    for (int day = 0; day < files; day++) {
      past.add(file(day, usual + random.nextInt(2 * spread + 1) - spread, random.nextInt(3)));
    }
    return past;
  }

  @Test
  void whatLiesWithinThePastIsUsualAndWhatIsFarFromItIsNot() {
    Random random = new Random(1);
    for (int round = 0; round < 300; round++) {
      int usual = 500 + random.nextInt(100_000);
      int spread = random.nextInt(usual / 20 + 1);
      List<Volume> past = past(random, 30, usual, spread);
      int within = usual + random.nextInt(2 * spread + 1) - spread;
      assertEquals(Optional.empty(), file(30, within, 1).unusual(past), "round " + round);
      assertTrue(file(30, usual / 2, 1).unusual(past).isPresent(), "half, round " + round);
      assertTrue(file(30, usual * 2L, 1).unusual(past).isPresent(), "twice, round " + round);
      assertTrue(file(30, 0, 0).unusual(past).orElse("").startsWith("0 rows, usually "));
      Collections.shuffle(past, random);
      assertTrue(file(30, usual * 2L, 1).unusual(past).isPresent(), "in any order");
    }
  }

  @Test
  void singleOddFilesOfThePastDoNotCount() {
    List<Volume> past = past(new Random(2), 30, 2000, 20);
    past.set(3, file(3, 0, 0));
    past.set(9, file(9, 900_000, 0));
    assertEquals(Optional.empty(), file(30, 2010, 1).unusual(past));
    assertTrue(file(30, 1000, 1).unusual(past).isPresent());
  }

  @Test
  void weekdaysAreComparedWithTheirLike() {
    List<Volume> past = new ArrayList<>();
    for (int day = 0; day < 56; day++) {
      past.add(file(day, day % 7 >= 5 ? 100 : 2000, 0));
    }
    assertEquals(Optional.empty(), file(61, 100, 0).unusual(past), "a Saturday like others");
    assertTrue(file(56, 100, 0).unusual(past).isPresent(), "a Monday like a Saturday");
    assertTrue(file(61, 2000, 0).unusual(past).isPresent(), "a Saturday like a Monday");
  }

  @Test
  void aShortPastSaysNothing() {
    List<Volume> past = past(new Random(3), Volume.LEAST - 1, 2000, 0);
    assertEquals(Optional.empty(), file(30, 1, 0).unusual(past));
  }

  @Test
  void manyRejectsAreUnusual() {
    List<Volume> past = past(new Random(4), 30, 2000, 10);
    assertEquals(
        Optional.of("10 percent of rows rejected, usually 0.1"),
        file(30, 2000, 200).unusual(past).map(said -> said.replaceAll("0\\.\\d+$", "0.1")));
    assertEquals(Optional.empty(), file(30, 2000, 12).unusual(past));
  }

  @Test
  void aColumnThatIsSuddenlyNullIsUnusual() {
    List<Volume> past = new ArrayList<>();
    for (int day = 0; day < 30; day++) {
      past.add(file(day, 1000, 0, day < 10 ? Map.of() : Map.of("litres", 20L + day % 3)));
    }
    assertEquals(Optional.empty(), file(30, 1000, 0, Map.of("litres", 25L)).unusual(past));
    assertEquals(
        Optional.of("40 percent of litres null, usually 2.1"),
        file(30, 1000, 0, Map.of("litres", 400L)).unusual(past));
    assertEquals(
        Optional.empty(),
        file(30, 1000, 0, Map.of("remark", 1000L)).unusual(past),
        "never counted before");
  }

  /** What is refused is unusual and beyond the limit, and says both. */
  @Test
  void onlyWhatIsUnusualAndBeyondTheLimitIsRefused() {
    VolumePolicy half = new VolumePolicy(List.of("litres"), Optional.of(0.5));
    List<Volume> steady = past(new Random(5), 30, 2000, 20);
    assertEquals(Optional.empty(), half.refusal(file(30, 1100, 1), steady), "45% less");
    String refusal = half.refusal(file(30, 900, 1), steady).orElseThrow();
    assertTrue(refusal.matches("unusual volume: 900 rows, usually .* more than 50%;.*"), refusal);
    assertTrue(half.refusal(file(30, 3100, 1), steady).isPresent(), "55% more");
    assertEquals(Optional.empty(), VolumePolicy.USUAL.refusal(file(30, 1, 0), steady));
    assertEquals(Optional.empty(), half.anyVolume().refusal(file(30, 1, 0), steady));
    List<Volume> wild = past(new Random(6), 30, 2000, 1900);
    assertEquals(Optional.empty(), half.refusal(file(30, 400, 0), wild), "usual for this feed");
    assertTrue(half.refusal(file(30, 2000, 1200), steady).isPresent(), "60% rejected");
    assertEquals(Optional.empty(), half.refusal(file(30, 2000, 900), steady), "45% rejected");
  }
}
