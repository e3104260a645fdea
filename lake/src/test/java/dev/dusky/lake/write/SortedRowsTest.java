package dev.dusky.lake.write;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.table.SortField;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;
import dev.dusky.testkit.FeedBuilder;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Rows of every kind of column, compared with the same rows sorted as objects. */
class SortedRowsTest {

  private static final int ROWS = 10_000;

  private record Row(Long no, Double share, BigDecimal milk, String farm, Long id, int place) {}

  private static final List<Comparator<Row>> BY =
      List.of(
          Comparator.comparing(Row::no, Comparator.nullsFirst(Comparator.naturalOrder())),
          Comparator.comparing(Row::share, Comparator.nullsFirst(Comparator.naturalOrder())),
          Comparator.comparing(Row::milk, Comparator.nullsFirst(Comparator.naturalOrder())),
          Comparator.comparing(Row::farm, Comparator.nullsFirst(Comparator.naturalOrder())),
          Comparator.comparing(
              Row::id, Comparator.nullsFirst((a, b) -> Long.compareUnsigned(a, b))));

  private static final List<String> NAMES = List.of("no", "share", "milk", "farm", "id");

  private static Feed feed() {
    return new FeedBuilder("cow")
        .column("no", "bigint")
        .column("share", "double precision")
        .column("milk", "decimal(30,1)")
        .column("farm", "text")
        .column("id", "uuid")
        .build();
  }

  private static List<ColumnVector> vectors(Feed feed) {
    List<ColumnVector> vectors =
        feed.columns().stream().map(c -> ColumnVector.of(c.type())).toList();
    vectors.forEach(v -> v.reset(1));
    return vectors;
  }

  private static Row row(Random random, int place) {
    boolean wide = random.nextInt(10) == 0;
    BigInteger unscaled =
        wide
            ? BigInteger.valueOf(random.nextLong()).shiftLeft(20)
            : BigInteger.valueOf(random.nextInt(20));
    return new Row(
        random.nextInt(8) == 0 ? null : (long) random.nextInt(9) - 4,
        random.nextInt(8) == 0 ? null : (double) random.nextInt(5),
        random.nextInt(8) == 0 ? null : new BigDecimal(unscaled, 1),
        random.nextInt(8) == 0 ? null : "F" + "x".repeat(random.nextInt(40)),
        random.nextInt(8) == 0 ? null : random.nextLong(),
        place);
  }

  private static void fill(List<ColumnVector> vectors, Row row) {
    vectors.forEach(v -> v.reset(1));
    if (row.no() == null) {
      vectors.get(0).setNull(0);
    } else {
      ((LongVector) vectors.get(0)).set(0, row.no());
    }
    if (row.share() == null) {
      vectors.get(1).setNull(0);
    } else {
      ((DoubleVector) vectors.get(1)).set(0, row.share());
    }
    DecimalVector decimals = (DecimalVector) vectors.get(2);
    if (row.milk() == null) {
      decimals.setNull(0);
    } else if (row.milk().unscaledValue().bitLength() > 63) {
      decimals.setWide(0, row.milk().unscaledValue());
    } else {
      decimals.set(0, row.milk().unscaledValue().longValue());
    }
    if (row.farm() == null) {
      vectors.get(3).setNull(0);
    } else {
      byte[] bytes = row.farm().getBytes(StandardCharsets.UTF_8);
      ((BytesVector) vectors.get(3)).set(0, bytes, 0, bytes.length);
    }
    if (row.id() == null) {
      vectors.get(4).setNull(0);
    } else {
      ((UuidVector) vectors.get(4)).set(0, row.id(), 7);
    }
  }

  @Test
  void theyComeAsTheSameRowsWouldBeSortedAsObjects() {
    Feed feed = feed();
    for (int seed = 0; seed < 8; seed++) {
      Random random = new Random(seed);
      List<SortField> by = new ArrayList<>();
      Comparator<Row> expected = (a, b) -> 0;
      for (int i = 0; i < 1 + seed % 3; i++) {
        int column = random.nextInt(NAMES.size());
        boolean descending = random.nextBoolean();
        by.add(new SortField(NAMES.get(column), descending));
        Comparator<Row> one = BY.get(column);
        expected = expected.thenComparing(descending ? one.reversed() : one);
      }
      SortedRows rows = new SortedRows(feed, by, Long.MAX_VALUE);
      List<ColumnVector> vectors = vectors(feed);
      RowAt at = new RowAt();
      for (int round = 0; round < 2; round++) { // the room is used again
        List<Row> model = new ArrayList<>();
        for (int place = 0; place < ROWS; place++) {
          Row row = row(random, place);
          model.add(row);
          fill(vectors, row);
          at.in(vectors, 0, place);
          at.load = 3;
          rows.add(at);
        }
        model.sort(expected);
        List<Long> places = new ArrayList<>();
        for (int place : rows.order()) {
          rows.go(at, place);
          assertEquals(3, at.load);
          places.add(at.number());
        }
        assertEquals(model.stream().map(r -> (long) r.place()).toList(), places, by.toString());
        rows.clear();
      }
    }
  }

  @Test
  void theyAreFullByTheirBytes() {
    Feed feed = feed();
    SortedRows rows = new SortedRows(feed, List.of(new SortField("no", false)), 2 << 20);
    RowAt at = new RowAt();
    List<ColumnVector> vectors = vectors(feed);
    int count = 0;
    while (!rows.isFull()) {
      fill(vectors, new Row(1L, 1.0, BigDecimal.ONE, "x".repeat(100), 1L, 0));
      at.in(vectors, 0, count++);
      rows.add(at);
      assertTrue(count < 50_000);
    }
    assertTrue(count > 4_000, count + " rows");
    rows.clear();
    assertFalse(rows.isFull());
    assertTrue(rows.isEmpty());
  }
}
