package dev.dusky.formats;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.List;
import org.junit.jupiter.api.Test;

/** Dividing columns among threads. */
class ColumnSharesTest {

  private static int[] alone(int columns) {
    return java.util.stream.IntStream.range(0, columns).toArray();
  }

  @Test
  void theHeavyOnesAreSpread() {
    List<int[]> shares = ColumnShares.of(new long[] {10, 9, 1, 2}, alone(4), 2);
    assertEquals(2, shares.size());
    assertArrayEquals(new int[] {0, 2}, shares.get(0));
    assertArrayEquals(new int[] {1, 3}, shares.get(1));
  }

  @Test
  void whatBelongsTogetherStaysTogether() {
    List<int[]> shares = ColumnShares.of(new long[] {5, 5, 5, 8}, new int[] {0, 1, 0, 3}, 3);
    assertArrayEquals(new int[] {0, 2}, shares.get(0));
    assertArrayEquals(new int[] {3}, shares.get(1));
    assertArrayEquals(new int[] {1}, shares.get(2));
  }

  @Test
  void noShareIsEmptyUnlessThereAreNoColumns() {
    assertEquals(1, ColumnShares.of(new long[] {0}, alone(1), 4).size());
    List<int[]> none = ColumnShares.of(new long[0], new int[0], 4);
    assertEquals(1, none.size());
    assertArrayEquals(new int[0], none.get(0));
  }
}
