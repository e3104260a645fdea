package dev.dusky.core.source;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Ranges of a key cover every number once; and changes of a query's shape in words. */
class KeyRangeTest {

  private static boolean has(KeyRange range, long key) {
    return range.from().map(from -> key >= from).orElse(true)
        && range.to().map(to -> key < to).orElse(true);
  }

  @Test
  void everyKeyIsInOneRange() {
    Random random = new Random(6);
    for (int turn = 0; turn < 2_000; turn++) {
      long least = random.nextLong() >> random.nextInt(64);
      long greatest = least;
      if (random.nextInt(5) > 0) {
        greatest = Math.max(least, random.nextLong() >> random.nextInt(64));
      }
      int number = 2 + random.nextInt(63);
      List<KeyRange> ranges = KeyRange.cut(least, greatest, number);
      assertTrue(ranges.size() <= number, ranges.toString());
      for (int i = 0; i < 20; i++) {
        long key = i == 0 ? least : i == 1 ? greatest : random.nextLong() >> random.nextInt(64);
        assertEquals(1, ranges.stream().filter(range -> has(range, key)).count(), () -> "" + key);
      }
    }
    assertEquals(4, KeyRange.cut(1, 100, 4).size());
    assertEquals(2, KeyRange.cut(7, 7, 4).size(), "one key is not cut");
  }

  @Test
  void changesOfShapeAreNamed() {
    assertEquals(
        "it no longer has b decimal(9,2) and it now has b decimal(12,2), c text",
        ShapeChange.between("a int8, b decimal(9,2)", "a int8, b decimal(12,2), c text"));
    assertEquals("it now has b text", ShapeChange.between("a int8", "a int8, b text"));
    assertTrue(ShapeChange.between("a x, b y", "b y, a x").startsWith("their order was"));
  }
}
