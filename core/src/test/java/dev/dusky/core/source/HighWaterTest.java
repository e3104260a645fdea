package dev.dusky.core.source;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.type.SqlType;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.LongVector;
import java.math.BigInteger;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** The greatest value of a column, and from where rows are read the next time. */
class HighWaterTest {

  private static final Instant NOW = Instant.parse("2026-03-02T10:00:00Z");

  private static SqlType type(String text) {
    return SqlType.parse(text).orElseThrow();
  }

  private static SourceBatch batch(SqlType type, Long... values) {
    SourceBatch batch =
        new SourceBatch(List.of(new SourceColumn("at", "at", type, type.toString())));
    batch.reset();
    for (int row = 0; row < values.length; row++) {
      if (values[row] == null) {
        batch.column(0).setNull(row);
      } else if (batch.column(0) instanceof LongVector longs) {
        longs.set(row, values[row]);
      } else {
        ((DecimalVector) batch.column(0)).set(row, values[row]);
      }
    }
    batch.rows(values.length);
    return batch;
  }

  private static long micros(String instant) {
    return Instant.parse(instant).toEpochMilli() * 1000;
  }

  @Test
  void itIsTheGreatestOfAllBatchesAndNeverGoesBack() {
    Random random = new Random(4);
    for (String name : List.of("bigint", "date", "decimal(12,3)")) {
      SqlType type = type(name);
      for (int turn = 0; turn < 200; turn++) {
        HighWater water = new HighWater(type, 0);
        long most = Long.MIN_VALUE;
        long none = 0;
        for (int b = random.nextInt(4); b > 0; b--) {
          List<Long> values = new ArrayList<>();
          for (int n = random.nextInt(5); n > 0; n--) {
            boolean null_ = random.nextInt(4) == 0;
            long value = random.nextInt(20_000);
            values.add(null_ ? null : value);
            none += null_ ? 1 : 0;
            most = null_ ? most : Math.max(most, value);
          }
          water.add(batch(type, values.toArray(Long[]::new)));
        }
        assertEquals(none, water.none());
        String after = water.after(null, NOW);
        if (most == Long.MIN_VALUE) {
          assertNull(after);
          assertEquals("5", new HighWater(type("bigint"), 0).after("5", NOW));
        } else {
          HighWater again = new HighWater(type, 0);
          again.add(batch(type, most - 1));
          assertEquals(after, again.after(after, NOW), "a lower value leaves it as it is");
          again.add(batch(type, most + 1));
          assertFalse(after.equals(again.after(after, NOW)));
        }
      }
    }
  }

  @Test
  void theOverlapIsTakenOff() {
    Source.Newer span = new Source.Newer("at", Duration.ofMinutes(90), 0);
    assertEquals(
        "2026-03-02T08:30", new HighWater(type("timestamp"), 0).from("2026-03-02T10:00", span));
    assertEquals(
        "2026-03-02T08:30:00.000001Z",
        new HighWater(type("timestamp with time zone"), 0)
            .from("2026-03-02T10:00:00.000001Z", span));
    Source.Newer days = new Source.Newer("at", Duration.ofDays(2), 0);
    assertEquals("2026-02-28", new HighWater(type("date"), 0).from("2026-03-02", days));
    Source.Newer number = new Source.Newer("at", Duration.ZERO, 7);
    assertEquals("-2", new HighWater(type("bigint"), 0).from("5", number));
    assertEquals("1.25", new HighWater(type("decimal(9,2)"), 0).from("8.25", number));
  }

  @Test
  void aTimeInTheFutureIsCutAtThePresent() {
    HighWater zoned = new HighWater(type("timestamp with time zone"), 0);
    zoned.add(batch(type("timestamp with time zone"), micros("2026-03-02T10:00:30Z")));
    assertFalse(zoned.beyond(NOW), "clocks differ a little");
    assertEquals("2026-03-02T10:00:30Z", zoned.after(null, NOW));
    zoned.add(batch(type("timestamp with time zone"), micros("2026-03-02T11:00:00Z")));
    assertTrue(zoned.beyond(NOW));
    assertEquals("2026-03-02T10:01Z", zoned.after(null, NOW));
    HighWater local = new HighWater(type("timestamp"), 0);
    local.add(batch(type("timestamp"), micros("2026-03-02T23:00:00Z")));
    assertFalse(local.beyond(NOW), "it may be that late somewhere");
  }

  @Test
  void numbersOfAnySizeAreCompared() {
    SqlType wide = type("decimal(30,2)");
    HighWater water = new HighWater(wide, 0);
    SourceBatch batch = batch(wide, 5L, 6L);
    ((DecimalVector) batch.column(0)).setWide(1, BigInteger.TEN.pow(25));
    water.add(batch);
    assertEquals("1" + "0".repeat(23) + ".00", water.after("77.00", NOW));
  }

  @Test
  void onlyTypesWithOneOrderServe() {
    assertTrue(HighWater.serves(type("timestamp")));
    assertTrue(HighWater.serves(type("smallint")));
    for (String other : List.of("text", "varchar(3)", "double precision", "uuid", "time", "json")) {
      assertFalse(HighWater.serves(type(other)), other);
    }
  }
}
