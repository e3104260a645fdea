package dev.dusky.core.repeat;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.type.SqlType;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Collections;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

class RepeatTest {

  private static BytesVector texts(String... values) {
    BytesVector vector = new BytesVector();
    vector.reset(values.length);
    for (int i = 0; i < values.length; i++) {
      if (values[i] == null) {
        vector.setNull(i);
      } else {
        byte[] bytes = values[i].getBytes(StandardCharsets.UTF_8);
        vector.set(i, bytes, 0, bytes.length);
      }
    }
    return vector;
  }

  private static List<Long> hash(RowHash hash, List<ColumnVector> vectors, int row) {
    return hash.hash(vectors, row) ? List.of(hash.high(), hash.low()) : List.of();
  }

  @Test
  void sameValuesHaveTheSamePrintAndOthersHaveNot() {
    SqlType text = SqlType.parse("text").orElseThrow();
    RowHash hash = new RowHash(List.of(0, 1), List.of(text, text), false);
    List<ColumnVector> rows =
        List.of(texts("ab", "a", "ab", null, "", null), texts("c", "bc", "c", "", null, ""));
    assertEquals(hash(hash, rows, 0), hash(hash, rows, 2));
    assertNotEquals(hash(hash, rows, 0), hash(hash, rows, 1), "ab|c is not a|bc");
    assertEquals(hash(hash, rows, 3), hash(hash, rows, 5), "null equals null");
    assertNotEquals(hash(hash, rows, 3), hash(hash, rows, 4), "null is not an empty text");
    RowHash keyed = new RowHash(List.of(0), List.of(text), true);
    assertFalse(keyed.hash(rows, 3), "a key with a null is none");
  }

  @Test
  void valuesThatAreEqualInSqlHaveTheSameHash() {
    DoubleVector doubles = new DoubleVector();
    doubles.reset(2);
    doubles.set(0, 0.0);
    doubles.set(1, -0.0);
    RowHash ofDouble =
        new RowHash(List.of(0), List.of(SqlType.parse("double precision").orElseThrow()), false);
    assertEquals(hash(ofDouble, List.of(doubles), 0), hash(ofDouble, List.of(doubles), 1));
    RowHash ofChar =
        new RowHash(List.of(0), List.of(SqlType.parse("char(4)").orElseThrow()), false);
    List<ColumnVector> chars = List.of(texts("ab", "ab  "));
    assertEquals(hash(ofChar, chars, 0), hash(ofChar, chars, 1));
    DecimalVector decimals = new DecimalVector(1);
    decimals.reset(3);
    decimals.set(0, 15);
    decimals.setWide(1, BigInteger.valueOf(15));
    decimals.setWide(2, BigInteger.ONE.shiftLeft(70));
    RowHash ofDecimal =
        new RowHash(List.of(0), List.of(SqlType.parse("decimal(30,1)").orElseThrow()), false);
    assertEquals(hash(ofDecimal, List.of(decimals), 0), hash(ofDecimal, List.of(decimals), 1));
    assertNotEquals(hash(ofDecimal, List.of(decimals), 0), hash(ofDecimal, List.of(decimals), 2));
  }

  /** Rows of texts around the sizes of words: equal values, equal hashes; other values, others. */
  @Test
  void valuesDecideWhereverTheyLieInMemory() {
    Random random = new Random(4);
    SqlType text = SqlType.parse("text").orElseThrow();
    int columns = 40;
    List<Integer> all = IntStream.range(0, columns).boxed().toList();
    RowHash hash = new RowHash(all, Collections.nCopies(columns, text), false);
    Map<List<String>, List<Long>> known = new HashMap<>();
    Set<List<Long>> hashes = new HashSet<>();
    for (int batch = 0; batch < 200; batch++) {
      String[][] values = new String[columns][10];
      for (int c = 0; c < columns; c++) {
        for (int r = 0; r < 10; r++) {
          int length = c < 38 ? batch % 3 : random.nextInt(20) - 1;
          values[c][r] = length < 0 ? null : "\0x".repeat(10).substring(0, length);
        }
      }
      List<ColumnVector> vectors = Arrays.stream(values).map(v -> (ColumnVector) texts(v)).toList();
      for (int r = 0; r < 10; r++) {
        int row = r;
        List<String> key = Arrays.stream(values).map(v -> v[row]).toList();
        List<Long> now = hash(hash, vectors, r);
        List<Long> before = known.put(key, now);
        assertEquals(before == null ? now : before, now, key.toString());
        assertEquals(before == null, hashes.add(now), key.toString());
      }
    }
    assertTrue(known.size() > 200 && known.size() < 1_900, known.size() + " different rows");
  }

  @Test
  void aTableSaysWhenItIsFull() {
    HashMemory memory = new HashMemory(100_000);
    RowHashTable table = new RowHashTable(memory, 0);
    int taken = 0;
    Random random = new Random(1);
    while (true) {
      long high = random.nextLong() | 1;
      int slot = table.slot(high, taken);
      if (!table.put(slot, high, taken, taken)) {
        break;
      }
      taken++;
    }
    assertTrue(taken > 1000 && taken < 5000, taken + " hashes in 100 kB");
    List<Long> all = new ArrayList<>();
    table.forEach((high, low, place) -> all.add(place));
    assertEquals(taken, all.stream().distinct().count());
    assertFalse(memory.take(50_000));
    table.close();
    assertTrue(memory.take(100_000));
  }

  @Test
  void aSpoolResolvesByPartitionWhatAMapWouldResolve() {
    Random random = new Random(7);
    for (RepeatPolicy.Keep keep : RepeatPolicy.Keep.values()) {
      Map<Long, Long> expected = new TreeMap<>();
      Map<Long, long[]> winners = new TreeMap<>();
      Map<Long, List<Long>> groups = new TreeMap<>();
      try (HashSpool spool = new HashSpool(1);
          HashSpool known = new HashSpool(0)) {
        known.add(hash(3), 3, Place.of(0, 77), new long[0]);
        known.add(hash(4), 4, Place.of(1, 78), new long[0]);
        BitSet dead = new BitSet();
        dead.set(1);
        for (long record = 1; record <= 5000; record++) {
          long key = random.nextInt(900);
          long mark = random.nextInt(4);
          spool.add(hash(key), key, Place.of(2, record), new long[] {mark});
          groups.computeIfAbsent(key, k -> new ArrayList<>()).add(record);
          long[] best = winners.get(key);
          boolean wins =
              best == null
                  || keep == RepeatPolicy.Keep.LAST
                  || keep == RepeatPolicy.Keep.LATEST && mark > best[1];
          if (wins) {
            winners.put(key, new long[] {record, mark});
          }
        }
        groups.forEach(
            (key, records) -> {
              for (long record : records) {
                if (key == 3) {
                  expected.put(record, Place.of(0, 77));
                } else if (record != winners.get(key)[0]) {
                  expected.put(record, Place.of(2, winners.get(key)[0]));
                }
              }
            });
        Map<Long, Long> left = new TreeMap<>();
        long count =
            spool.resolve(known, keep, dead, (place, kept) -> left.put(Place.record(place), kept));
        assertEquals(expected, left, keep.label());
        assertEquals(expected.size(), count);
      }
    }
  }

  private static long hash(long key) {
    return (key * 0x9E3779B97F4A7C15L) | 1;
  }

  @Test
  void verdictsAndRunsComeBackAsTheyWent() {
    try (Verdicts verdicts = new Verdicts();
        RepeatRuns runs = new RepeatRuns()) {
      verdicts.leave(5, 9);
      verdicts.leave(3_000_000, Place.of(4, 1));
      assertEquals(9, verdicts.of(5));
      assertEquals(0, verdicts.of(6));
      assertEquals(0, verdicts.of(1_500_000));
      assertEquals(Place.of(4, 1), verdicts.of(3_000_000));
      runs.add(10, Place.of(0, 1));
      runs.add(11, Place.of(0, 2));
      runs.add(13, Place.of(0, 4));
      runs.add(14, Place.of(1, 5));
      List<String> told = new ArrayList<>();
      runs.forEach(
          (first, count, file, kept) -> told.add(first + "+" + count + "=" + file + ":" + kept));
      assertEquals(List.of("10+2=0:1", "13+1=0:4", "14+1=1:5"), told);
    }
  }
}
